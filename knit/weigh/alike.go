package weigh

import (
	"context"
	"slices"

	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/technique"
)

// Alike is how many findings of a kind have a remedy.
func Alike(list []finding.Finding, code finding.Code) (n int) {
	for i := range list {
		if list[i].Code == code && list[i].Mend != nil {
			n++
		}
	}
	return n
}

// MendAlike mends the findings of a kind of a piece file one after another, each on the piece as the one before has left
// it, for as long as there are fewer after each; n is how many that were. Where the context ends first, it is those
// that are mended by then.
func MendAlike(ctx context.Context, file []byte, r *check.Result, code finding.Code) (all []edit.Change, n int, err error) {
	doc, err := edit.Parse(file)
	if err != nil {
		return nil, 0, err
	}
	list := r.Findings
	for left := Alike(list, code); left > 0; {
		i := slices.IndexFunc(list, func(f finding.Finding) bool { return f.Code == code && f.Mend != nil })
		changes := list[i].Remedy()
		if _, err := doc.Apply(changes); err != nil {
			return nil, 0, err
		}
		p, err := technique.Piece(doc)
		if err != nil {
			return nil, 0, err
		}
		now, err := check.RunContext(ctx, p)
		if err != nil && n == 0 {
			return nil, 0, err
		} else if err != nil {
			break
		}
		if list = now.Findings; Alike(list, code) >= left {
			break
		}
		all, n, left = append(all, changes...), n+1, Alike(list, code)
	}
	return all, n, nil
}
