package scan

import (
	"math"
	"math/cmplx"
	"slices"
)

// blob is a spot that stands out from what is round it.
type blob struct{ x, y, size float64 }

// lattice is a grid of holes in a picture: where the cell of column i and row j (downwards) lies is worked out from
// the spots that were found on it.
type lattice struct {
	p      *grey
	dark   bool
	cells  map[[2]int]blob
	fit    [2][6]float64 // x and y as 1, i, j, ij, ii, jj
	across float64       // pixels from column to column, and from row to row
	down   float64
	tilt   float64
}

func (l *lattice) found() int { return len(l.cells) }

// spots are the round patches that are darker, or lighter, than what is round them, of about one size.
func (p *grey) spots(dark bool) []blob {
	mean, r := p.mean(), max(p.w, p.h)/14+2
	ratio := make([]float64, len(p.at))
	for y := range p.h {
		for x := range p.w {
			ratio[y*p.w+x] = p.at[y*p.w+x] / (mean(x-r, y-r, x+r+1, y+r+1) + 0.02)
		}
	}
	some := make([]float64, 0, 40000)
	for i := 0; i < len(ratio); i += max(1, len(ratio)/40000) {
		some = append(some, ratio[i])
	}
	limit, _, _ := otsu(some)
	on := func(i int) bool { return (ratio[i] < limit) == dark }
	seen := make([]bool, len(ratio))
	var all []blob
	var stack []int
	for start := range ratio {
		if seen[start] || !on(start) {
			continue
		}
		seen[start] = true
		stack = append(stack[:0], start)
		n, sx, sy := 0.0, 0.0, 0.0
		x0, x1, y0, y1 := p.w, 0, p.h, 0
		for len(stack) > 0 {
			i := stack[len(stack)-1]
			stack = stack[:len(stack)-1]
			x, y := i%p.w, i/p.w
			n, sx, sy = n+1, sx+float64(x), sy+float64(y)
			x0, x1, y0, y1 = min(x0, x), max(x1, x), min(y0, y), max(y1, y)
			for _, d := range [4][2]int{{1, 0}, {-1, 0}, {0, 1}, {0, -1}} {
				if nx, ny := x+d[0], y+d[1]; nx >= 0 && nx < p.w && ny >= 0 && ny < p.h && !seen[ny*p.w+nx] &&
					on(ny*p.w+nx) {
					seen[ny*p.w+nx] = true
					stack = append(stack, ny*p.w+nx)
				}
			}
		}
		w, h := float64(x1-x0+1), float64(y1-y0+1)
		if n >= 6 && w/h < 2 && h/w < 2 && n/(w*h) > 0.55 && x0 > 0 && y0 > 0 && x1 < p.w-1 && y1 < p.h-1 {
			all = append(all, blob{sx / n, sy / n, math.Sqrt(4 * n / math.Pi)})
		}
	}
	if len(all) < 6 {
		return nil
	}
	sizes := make([]float64, len(all))
	for i := range all {
		sizes[i] = all[i].size
	}
	slices.Sort(sizes)
	middle := sizes[len(sizes)/2]
	return slices.DeleteFunc(all, func(b blob) bool { return b.size < 0.6*middle || b.size > 1.6*middle })
}

// seen is how much of a hole's width is seen of it: its rim is half in shade.
const seen = 0.9

// lattice finds the grid on which spots lie; nil where they lie on none.
func (p *grey) lattice(dark bool, o Options) *lattice {
	list := p.spots(dark)
	if len(list) < 8 {
		return nil
	}
	size, mid := 0.0, blob{}
	for _, b := range list {
		size += b.size / float64(len(list))
		mid.x, mid.y = mid.x+b.x/float64(len(list)), mid.y+b.y/float64(len(list))
	}
	// The spots round the middle, near enough to show tilt and distances without their adding up.
	near := slices.Clone(list)
	far := func(b blob) float64 { return math.Hypot(b.x-mid.x, b.y-mid.y) }
	slices.SortFunc(near, func(a, b blob) int {
		switch {
		case far(a) < far(b):
			return -1
		case far(a) > far(b):
			return 1
		}
		return 0
	})
	near = near[:min(len(near), 120)]
	pitch := func(tilt float64, side bool) (best, response float64) {
		c, s := math.Cos(tilt), math.Sin(tilt)
		for d := size * 1.05; d < size*3.2; d *= 1.01 {
			sum := complex(0, 0)
			for _, b := range near {
				at := b.x*c + b.y*s
				if side {
					at = b.y*c - b.x*s
				}
				sum += cmplx.Rect(1, 2*math.Pi*at/d)
			}
			if r := cmplx.Abs(sum) / float64(len(near)); r > response*1.04 || r > response && best == 0 {
				best, response = d, r
			}
		}
		return best, response
	}
	tilt, most := 0.0, 0.0
	for deg := -12.0; deg <= 12; deg += 0.25 {
		_, a := pitch(deg*math.Pi/180, false)
		_, b := pitch(deg*math.Pi/180, true)
		if a*b > most {
			tilt, most = deg*math.Pi/180, a*b
		}
	}
	across, ra := pitch(tilt, false)
	down, rb := pitch(tilt, true)
	if ra < 0.6 || rb < 0.6 {
		return nil
	}
	if o.Hole > 0 { // where only every second column or row has holes
		ratio := o.Ratio
		if ratio <= 0 {
			ratio = 1.1
		}
		across /= math.Max(1, math.Round(across*o.Hole*seen/size))
		down /= math.Max(1, math.Round(down/(across*ratio)))
	}
	l := &lattice{p: p, dark: dark, cells: map[[2]int]blob{}, across: across, down: down, tilt: tilt}
	l.grow(list, near[0])
	if len(l.cells) < 8 || len(l.cells)*2 < len(list) {
		return nil
	}
	l.solve()
	for range 3 { // what lies beyond gaps
		l.gather(list)
		l.solve()
	}
	return l
}

// grow numbers spots from one on: each by one that is numbered already and near it.
func (l *lattice) grow(list []blob, from blob) {
	c, s := math.Cos(l.tilt), math.Sin(l.tilt)
	taken := make([]bool, len(list))
	for i, b := range list {
		taken[i] = b == from
	}
	l.cells[[2]int{}] = from
	queue := [][2]int{{}}
	const reach = 6.0
	for len(queue) > 0 {
		at := queue[0]
		queue = queue[1:]
		base := l.cells[at]
		for i, b := range list {
			dx, dy := b.x-base.x, b.y-base.y
			if taken[i] || math.Abs(dx) > reach*l.across || math.Abs(dy) > reach*l.down {
				continue
			}
			u, v := (dx*c+dy*s)/l.across, (dy*c-dx*s)/l.down
			if math.Abs(u-math.Round(u)) > 0.22 || math.Abs(v-math.Round(v)) > 0.22 {
				continue
			}
			to := [2]int{at[0] + int(math.Round(u)), at[1] + int(math.Round(v))}
			if _, there := l.cells[to]; there {
				continue
			}
			taken[i], l.cells[to] = true, b
			queue = append(queue, to)
		}
	}
}

// terms are what a place on the grid is worked out from; of few spots only the straight ones.
func terms(i, j float64, n int) []float64 { return []float64{1, i, j, i * j, i * i, j * j}[:n] }

// solve fits the grid to its spots by least squares.
func (l *lattice) solve() {
	n := 3
	if len(l.cells) > 60 {
		n = 6
	}
	var m [6][6]float64
	var vx, vy [6]float64
	for at, b := range l.cells {
		t := terms(float64(at[0])/10, float64(at[1])/10, n)
		for i := range t {
			for j := range t {
				m[i][j] += t[i] * t[j]
			}
			vx[i], vy[i] = vx[i]+t[i]*b.x, vy[i]+t[i]*b.y
		}
	}
	for k := range n { // Gauss and Jordan, the largest first
		big := k
		for i := k; i < n; i++ {
			if math.Abs(m[i][k]) > math.Abs(m[big][k]) {
				big = i
			}
		}
		m[k], m[big] = m[big], m[k]
		vx[k], vx[big], vy[k], vy[big] = vx[big], vx[k], vy[big], vy[k]
		if math.Abs(m[k][k]) < 1e-9 {
			continue // all in one line: what is missing stays nought
		}
		for i := range n {
			if i == k {
				continue
			}
			f := m[i][k] / m[k][k]
			for j := range n {
				m[i][j] -= f * m[k][j]
			}
			vx[i], vy[i] = vx[i]-f*vx[k], vy[i]-f*vy[k]
		}
	}
	l.fit = [2][6]float64{}
	for k := range n {
		if math.Abs(m[k][k]) >= 1e-9 {
			l.fit[0][k], l.fit[1][k] = vx[k]/m[k][k], vy[k]/m[k][k]
		}
	}
}

// place is where the cell of column i and row j lies.
func (l *lattice) place(i, j float64) (x, y float64) {
	for k, t := range terms(i/10, j/10, 6) {
		x, y = x+l.fit[0][k]*t, y+l.fit[1][k]*t
	}
	return x, y
}

// gather numbers the spots anew by the grid as it is fitted, leaving out those that lie off it.
func (l *lattice) gather(list []blob) {
	c, s := math.Cos(l.tilt), math.Sin(l.tilt)
	x0, y0 := l.place(0, 0)
	l.cells = map[[2]int]blob{}
	for _, b := range list {
		u, v := ((b.x-x0)*c+(b.y-y0)*s)/l.across, ((b.y-y0)*c-(b.x-x0)*s)/l.down
		for range 4 { // towards where the grid has it
			x, y := l.place(u, v)
			u, v = u+((b.x-x)*c+(b.y-y)*s)/l.across, v+((b.y-y)*c-(b.x-x)*s)/l.down
		}
		if math.Abs(u-math.Round(u)) < 0.25 && math.Abs(v-math.Round(v)) < 0.25 {
			l.cells[[2]int{int(math.Round(u)), int(math.Round(v))}] = b
		}
	}
}

// span is the first and the last of the columns (0) or rows (1) that are read: those that have spots, or as many as
// are asked for, about the middle of the picture.
func (l *lattice) span(axis, asked int) (from, to int) {
	count := map[int]int{}
	first := true
	for at := range l.cells {
		count[at[axis]]++
		if first {
			from, to, first = at[axis], at[axis], false
		}
		from, to = min(from, at[axis]), max(to, at[axis])
	}
	if asked == 0 {
		return from, to
	}
	best, most, off := from, -1, math.Inf(1)
	for a := min(from, to-asked+1); a <= max(from, to-asked+1); a++ {
		n := 0
		for k := range asked {
			n += count[a+k]
		}
		at, middle := 0.0, float64(l.p.w)/2
		if axis == 0 {
			at, _ = l.place(float64(a)+float64(asked-1)/2, 0)
		} else {
			_, at = l.place(0, float64(a)+float64(asked-1)/2)
			middle = float64(l.p.h) / 2
		}
		if d := math.Abs(at - middle); n > most || n == most && d < off {
			best, most, off = a, n, d
		}
	}
	return best, best + asked - 1
}

// read compares the middle of every cell with the card between it and its neighbours, which is never punched.
func (l *lattice) read(o Options) *Card {
	c0, c1 := l.span(0, o.Columns)
	r0, r1 := l.span(1, o.Rows)
	w, h := c1-c0+1, r1-r0+1
	mean := l.p.mean()
	r := math.Max(1, 0.16*math.Min(l.across, l.down))
	patch := func(i, j float64) float64 {
		x, y := l.place(i, j)
		return mean(int(x-r+0.5), int(y-r+0.5), int(x+r+0.5)+1, int(y+r+0.5)+1)
	}
	scores := make([]float64, w*h)
	for j := range h {
		for i := range w {
			x, y := float64(c0+i), float64(r1-j)
			card := (patch(x-0.5, y-0.5) + patch(x+0.5, y-0.5) + patch(x-0.5, y+0.5) + patch(x+0.5, y+0.5)) / 4
			if scores[j*w+i] = patch(x, y)/(card+0.02) - 1; l.dark {
				scores[j*w+i] = -scores[j*w+i]
			}
		}
	}
	c := judge(scores, w, h)
	c.Tilt = l.tilt * 180 / math.Pi
	return c
}
