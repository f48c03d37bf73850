// The board: cells on a canvas in the proportion of their stitches, row numbers at the
// left and the row rail at the right, which stay in sight while the drawing scrolls.
import { d, W, H, home, look, $ } from "./state.js";
import { drawRail, railWidth } from "./rail.js";
import { sign } from "./signs.js";

const top = 8,
  foot = 46;
let left = 58; // the row numbers, and in lace what a row adds or takes
let board,
  canvas,
  ctx,
  queued = false,
  railToo = true;

export function startBoard() {
  board = $("board");
  canvas = $("cells");
  ctx = canvas.getContext("2d");
  fit();
  board.addEventListener("scroll", () => draw(), { passive: true });
  new ResizeObserver(() => draw()).observe(board);
  addEventListener("resize", () => {
    if (d.fitted) fit(d.fitted === "whole");
    draw();
  });
  document.addEventListener("theme", () => draw());
  document.fonts?.ready.then(() => draw());
  // On paper the drawing is whole, and dark on light.
  let asShown = null;
  addEventListener("beforeprint", () => {
    const root = document.documentElement;
    asShown = { size: d.size, fitted: d.fitted, rail: d.rail, theme: root.dataset.theme };
    root.dataset.theme = "light";
    fit(true);
    railToo = true;
    paint();
  });
  addEventListener("afterprint", () => {
    if (!asShown) return;
    const { theme, ...was } = asShown;
    Object.assign(d, was);
    if (theme) document.documentElement.dataset.theme = theme;
    else delete document.documentElement.dataset.theme;
    draw();
  });
}

// bands is how tall each row is, in lines of the rail: as many as it may take, so that cells
// keep their size while one draws.
export const bands = () => d.cells.map(() => d.s.lines);
const usual = () => d.s.lines;

let kept = null;
export function layout() {
  const key =
    d.s.head +
    "/" +
    d.s.chart +
    "/" +
    H() +
    "/" +
    W() +
    "/" +
    d.size +
    "/" +
    d.square +
    d.repeat +
    d.rail +
    board.clientWidth +
    "/" +
    board.clientHeight;
  if (kept?.key === key) return kept;
  const band = bands(),
    h = d.size,
    tops = [];
  // In the repeat view the room above the drawing shows the repeat above it.
  const each = h * usual(),
    high = band.reduce((a, b) => a + b, 0) * h;
  const extra = d.repeat ? Math.max(0, Math.floor((board.clientHeight - top - foot - high) / each)) : 0;
  let y = top + extra * each;
  for (let r = H(); r >= 1; r--) {
    tops[r] = y;
    y += h * band[r - 1];
  }
  const wide = h * usual() * (d.square ? 1 : d.s.proportion),
    w = Math.max(2, h < 9 ? wide : Math.floor(wide));
  const repeat = W() * w,
    rail = d.repeat ? 0 : railWidth(board.clientWidth, d.rail);
  const room = board.clientWidth - left - rail - 14;
  // Beside the repeat, faded, as many columns of the next as there is room for.
  const ghost = Math.max(0, Math.min(d.repeat ? Infinity : W(), Math.floor((room - repeat) / w)));
  const shown = repeat + ghost * w;
  kept = {
    key,
    extra,
    each,
    tops,
    band,
    bottom: y,
    w,
    repeat,
    shown,
    rail,
    height: y + d.s.below.length * h + foot,
    clip: Math.max(left + 40, board.clientWidth - rail - 8),
  };
  kept.railX = Math.min(left + shown + 12, kept.clip);
  return kept;
}

// fit chooses the size of cells so that the whole chart is in sight. Where it is too wide the
// rail folds, its words first, then its threads, then all of it, before the cells shrink below
// what can be read; a chart that is larger still is seen whole when that is asked for.
export function fit(whole) {
  left = board.clientWidth < 500 && !d.s.balance ? 38 : 58;
  const rows = bands().reduce((a, x) => a + x, 0) + d.s.below.length,
    least = usual() === 2 ? [16, 12, 10, 8] : [18, 15, 15, 12];
  const high = (board.clientHeight - top - foot - 16) / Math.max(1, rows);
  const wide = (fold) =>
    (board.clientWidth - left - railWidth(board.clientWidth, fold) - 16) / W() / usual() / (d.square ? 1 : d.s.proportion);
  d.rail = 0;
  while (d.rail < 3 && wide(d.rail) < Math.min(least[d.rail], high)) d.rail++;
  const size = Math.min(high, wide(d.rail), 60 / usual());
  d.size = whole ? Math.max(2.5, size > 8 ? Math.floor(size) : size) : Math.floor(Math.max(least[d.rail], size));
  d.fitted = whole ? "whole" : "read";
}

export function zoom(by) {
  d.size = Math.max(4, Math.min(64, Math.round(d.size) + by * Math.max(1, Math.round(d.size / 10))));
  d.fitted = "";
  draw();
}

// pinch makes cells larger or smaller about the middle of two fingers.
let pinched = 0;
export function pinch(by, at) {
  if (!pinched) pinched = d.size;
  pinched = Math.max(4, Math.min(64, pinched * by));
  const size = Math.round(pinched);
  if (size === d.size) return;
  const r = canvas.getBoundingClientRect(),
    x = at.x - r.left - left,
    y = at.y - r.top - top,
    before = layout();
  const column = (x + board.scrollLeft) / before.w,
    line = (y + board.scrollTop) / d.size;
  d.size = size;
  d.fitted = "";
  const now = layout();
  setBox(now);
  board.scrollLeft = column * now.w - x;
  board.scrollTop = line * size - y;
  draw();
}
export const letGo = () => (pinched = 0);

const css = (name) => getComputedStyle(document.body).getPropertyValue(name).trim();

// draw asks for a new picture; quick leaves the rail as it is, while a stroke is painted.
export function draw(quick) {
  railToo = railToo || !quick;
  if (queued) return;
  queued = true;
  requestAnimationFrame(() => {
    queued = false;
    const began = performance.now();
    paint();
    // The first cell, for whoever drives the page from outside.
    board.dataset.grid = [left, kept.w, kept.tops[1] - board.scrollTop, kept.each].join(" ");
    board.dataset.frame = (performance.now() - began).toFixed(1);
  });
}

function paint() {
  const l = layout(),
    vw = board.clientWidth,
    vh = board.clientHeight,
    ratio = devicePixelRatio || 1;
  setBox(l);
  if (canvas.width !== Math.round(vw * ratio) || canvas.height !== Math.round(vh * ratio)) {
    canvas.width = Math.round(vw * ratio);
    canvas.height = Math.round(vh * ratio);
    canvas.style.width = vw + "px";
    canvas.style.height = vh + "px";
  }
  const sx = board.scrollLeft,
    sy = board.scrollTop;
  const c = {
    ink: css("--ink"),
    soft: css("--soft"),
    quiet: css("--band"),
    now: css("--now"),
    sheet: css("--sheet"),
    stop: css("--stop"),
    warn: css("--warn"),
    pick: css("--spruce-2"),
  };
  ctx.setTransform(ratio, 0, 0, ratio, 0, -sy * ratio);
  ctx.fillStyle = c.sheet;
  ctx.fillRect(0, sy, vw, vh);
  let first = H(),
    last = 1; // rows in sight, from the top
  while (first > 1 && l.tops[first] + d.size * l.band[first - 1] < sy) first--;
  last = first;
  while (last > 1 && l.tops[last - 1] < sy + vh) last--;
  const see = { l, sx, sy, vw, vh, first, last, c };
  for (let r = first; r >= last; r--) {
    if (r !== d.cursor.row && r % 2) continue;
    ctx.fillStyle = r === d.cursor.row ? c.now : c.quiet;
    ctx.fillRect(0, l.tops[r], vw, d.size * l.band[r - 1]);
  }
  ctx.save();
  ctx.beginPath();
  ctx.rect(left - 1, sy, l.clip - left + 1, vh);
  ctx.clip();
  ctx.translate(-sx, 0);
  drawCells(see);
  drawMarks(see);
  ctx.restore();
  drawGutter(see);
  if (railToo) drawRail(l, l.railX, see);
  railToo = false;
}

// setBox makes the board scroll as far as the drawing goes.
function setBox(l) {
  const size = $("board-size").style;
  size.width = (l.shown > l.clip - left ? left + l.shown + l.rail + 8 : 10) + "px";
  size.height = l.height + "px";
}

function drawCells({ l, sx, vw, first, last }) {
  const from = Math.max(0, Math.floor(sx / l.w)),
    to = Math.min(Math.ceil(l.shown / l.w), Math.ceil((sx + vw - left) / l.w));
  const told = d.letters || d.yarnMarks,
    small = told ? l.w < 9 || l.each < 9 : l.w < 17 || d.size < 12; // runs of one colour at a time: what is too small for rounded cells
  const rows = [];
  for (let r = first; r >= last; r--) rows.push([r, l.tops[r], d.size * l.band[r - 1]]);
  for (let k = 1; k <= l.extra; k++) rows.push([H() + k, l.tops[H()] - k * l.each, l.each]);
  for (const [r, y, h] of rows) {
    let x = from;
    while (x < to) {
      const at = cellOf(r, x + 1),
        ch = d.cells[at.row - 1][at.column - 1];
      let n = 1;
      if (small) {
        while (x + n < to && (x + n) % W() !== 0) {
          const next = cellOf(r, x + n + 1);
          if (d.cells[next.row - 1][next.column - 1] !== ch) break;
          n++;
        }
      }
      ctx.globalAlpha = x >= W() && !d.repeat ? 0.5 : 1;
      ctx.fillStyle = look(ch).colour;
      const px = left + x * l.w;
      if (small) ctx.fillRect(px, y, l.w * n, h);
      else {
        ctx.beginPath();
        ctx.roundRect(px + 0.5, y + 0.5, l.w - 1, h - 1, 2.5);
        ctx.fill();
        sign(ctx, look(ch), px, y, l.w, h);
      }
      x += n;
    }
  }
  ctx.globalAlpha = 1;
}

// In the repeat view the rows above and below belong to other repeats too.
const cellOf = (row, column) =>
  column > W() || column < 1 || row < 1 || row > H() ? home(row, column) : { row, column };

function drawMarks({ l, first, last, c }) {
  ctx.strokeStyle = c.ink;
  ctx.globalAlpha = 0.13;
  ctx.lineWidth = 1;
  if (l.w > 5) {
    ctx.beginPath();
    for (let x = 0; x <= W(); x++) {
      ctx.moveTo(left + x * l.w, l.tops[first]);
      ctx.lineTo(left + x * l.w, l.tops[last] + d.size * l.band[last - 1]);
    }
    for (let r = first; r >= last; r--) {
      ctx.moveTo(left, l.tops[r]);
      ctx.lineTo(left + l.repeat, l.tops[r]);
    }
    ctx.stroke();
  }
  ctx.globalAlpha = 1;
  ctx.lineWidth = 1.5;
  ctx.strokeRect(left, l.tops[H()], l.repeat, l.bottom - l.tops[H()]);
  for (const m of d.s.marks) {
    if (m.row > first || m.row < last) continue;
    ctx.strokeStyle = m.severity === "stop" ? c.stop : c.warn;
    ctx.lineWidth = Math.max(1.5, Math.min(3, d.size / 7));
    ctx.beginPath();
    for (const col of m.columns) {
      const x = left + (col - 1) * l.w,
        y = l.tops[m.row] + d.size * l.band[m.row - 1] - 3;
      ctx.moveTo(x + 2, y);
      ctx.lineTo(x + l.w - 2, y);
    }
    ctx.stroke();
  }
  if (d.selection) {
    const b = box(l, d.selection);
    ctx.setLineDash([6, 4]);
    ctx.strokeStyle = c.sheet;
    ctx.lineWidth = 4;
    ctx.strokeRect(b.x, b.y, b.w, b.h);
    ctx.strokeStyle = c.ink;
    ctx.lineWidth = 2;
    ctx.strokeRect(b.x, b.y, b.w, b.h);
    ctx.setLineDash([]);
  }
  if (d.tool === "stamp" && d.clip) {
    ctx.globalAlpha = 0.75;
    d.clip.forEach((row, y) =>
      [...row].forEach((ch, x) => {
        const r = d.cursor.row + y;
        if (r > H()) return;
        ctx.fillStyle = look(ch).colour;
        ctx.fillRect(left + (d.cursor.column - 1 + x) * l.w + 1, l.tops[r] + 1, l.w - 2, d.size * l.band[r - 1] - 2);
      }),
    );
    ctx.globalAlpha = 1;
  }
  for (const [on, x, y] of [
    [d.flipX, true, false],
    [d.flipY, false, true],
  ]) {
    if (!on) continue;
    ctx.strokeStyle = c.pick;
    ctx.lineWidth = 2;
    ctx.setLineDash([2, 5]);
    ctx.beginPath();
    if (x) {
      ctx.moveTo(left + l.repeat / 2, l.tops[H()]);
      ctx.lineTo(left + l.repeat / 2, l.bottom);
    }
    if (y) {
      const m = (l.tops[Math.ceil(H() / 2)] + l.tops[Math.floor(H() / 2) + 1] + d.size) / 2;
      ctx.moveTo(left, m);
      ctx.lineTo(left + l.repeat, m);
    }
    ctx.stroke();
    ctx.setLineDash([]);
  }
  const r = Math.min(d.cursor.row, H());
  ctx.strokeStyle = c.pick;
  ctx.lineWidth = 3;
  ctx.strokeRect(left + (d.cursor.column - 1) * l.w + 1, l.tops[r] + 1, l.w - 2, d.size * l.band[r - 1] - 2);
}

const box = (l, s) => ({
  x: left + (s.x0 - 1) * l.w,
  y: l.tops[s.y1],
  w: (s.x1 - s.x0 + 1) * l.w,
  h: l.tops[s.y0] + d.size * l.band[s.y0 - 1] - l.tops[s.y1],
});

// drawGutter writes the row numbers, and in lace by how much a row's count changes.
function drawGutter({ l, sy, vh, first, last, c }) {
  ctx.font = "400 14px " + css("--mono");
  ctx.textAlign = "right";
  ctx.textBaseline = "middle";
  const every = d.size >= 13 ? 1 : 5;
  for (let r = first; r >= last; r--) {
    const y = l.tops[r] + (d.size * l.band[r - 1]) / 2;
    const change = d.s.balance?.[r - 1];
    if (change) {
      ctx.fillStyle = c.stop;
      ctx.fillText((change > 0 ? "−" : "+") + Math.abs(change), left - 34, y);
    }
    if (r % every && r !== 1 && r !== d.cursor.row) continue;
    ctx.fillStyle = c.soft;
    ctx.fillText(r, left - 10, y);
  }
  const n = d.s.needles || [],
    under = Math.min(l.bottom + 18, sy + vh - 10),
    w = W();
  ctx.textAlign = "center";
  ctx.fillStyle = c.soft;
  if (l.bottom + 4 > sy + vh) return;
  for (const col of new Set([1, Math.ceil(w / 2), w])) {
    const x = left + (col - 0.5) * l.w - board.scrollLeft;
    if (n[col - 1] && (w * l.w > 130 || col !== Math.ceil(w / 2)) && x > left && x < l.clip - 10)
      ctx.fillText(n[col - 1], x, under);
  }
}

// cellAt is the cell under a pointer; a column beyond the last lies in the next repeat.
// place is "row" left of the drawing and "column" below it.
export function cellAt(e) {
  const r = canvas.getBoundingClientRect(),
    l = layout();
  const px = e.clientX - r.left,
    x = px + board.scrollLeft - left,
    y = e.clientY - r.top + board.scrollTop;
  if (px > l.clip) return null;
  let column = Math.floor(x / l.w) + 1,
    row = 0,
    place = "";
  if (l.extra && y < l.tops[H()] && y > l.tops[H()] - l.extra * l.each)
    row = H() + Math.ceil((l.tops[H()] - y) / l.each);
  for (let k = H(), y0 = top; k >= 1 && !row; k--) {
    y0 = l.tops[k];
    if (y >= y0 && y < y0 + d.size * l.band[k - 1]) row = k;
  }
  if (row && px < left) {
    place = "row";
    column = 1;
  } else if (!row && y >= l.bottom && y < l.bottom + 30) {
    place = "column";
    row = 1;
  } else if (!row && d.stroke)
    row = y < top ? H() + 1 : 0; // just outside, so that a line may leave
  else if (!row) return null;
  if (x >= l.shown || (column < 1 && !place && !d.stroke)) return d.stroke ? { row, column, place } : null;
  return { row, column, place };
}

// goTo brings the cursor to a cell and the cell into sight.
export function goTo(row, column) {
  setBox(layout());
  d.cursor = { row: Math.max(1, Math.min(row, H())), column: Math.max(1, Math.min(column || 1, W())) };
  const l = layout(),
    y = l.tops[d.cursor.row],
    x = (d.cursor.column - 1) * l.w,
    room = l.clip - left;
  const end = y + d.size * l.band[d.cursor.row - 1] + 34; // with the needles' labels below the first row
  if (y < board.scrollTop + d.size) board.scrollTop = y - d.size * 2;
  if (end > board.scrollTop + board.clientHeight) board.scrollTop = end - board.clientHeight;
  if (x < board.scrollLeft) board.scrollLeft = x - l.w;
  if (x > board.scrollLeft + room - l.w * 2) board.scrollLeft = x - room + l.w * 3;
  draw();
}
