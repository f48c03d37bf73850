// Painting on the cells: points, lines, shapes, fills, each with its mirror images, and
// running round the edge of the repeat where that is asked for.
import { d, W, H, home, brush } from "./state.js";

// put paints one cell and its images.
export function put(row, column, ch = brush()) {
  const at = [[row, column]];
  if (d.flipX) at.push([row, W() + 1 - column]);
  if (d.flipY) for (const [r, c] of [...at]) at.push([H() + 1 - r, c]);
  for (const [r, c] of at) set(r, c, ch);
}

function set(row, column, ch) {
  if (d.wrap || d.repeat || (column > W() && row >= 1 && row <= H())) ({ row, column } = home(row, column));
  if (row < 1 || row > H() || column < 1 || column > W()) return;
  d.cells[row - 1][column - 1] = ch;
}

export function line(a, b, to = put) {
  const n = Math.max(Math.abs(a.row - b.row), Math.abs(a.column - b.column), 1);
  for (let i = 0; i <= n; i++)
    to(Math.round(a.row + ((b.row - a.row) * i) / n), Math.round(a.column + ((b.column - a.column) * i) / n));
}

export function rectangle(a, b, filled) {
  const [r0, r1] = [Math.min(a.row, b.row), Math.max(a.row, b.row)],
    [c0, c1] = [Math.min(a.column, b.column), Math.max(a.column, b.column)];
  for (let r = r0; r <= r1; r++)
    for (let c = c0; c <= c1; c++) if (filled || r === r0 || r === r1 || c === c0 || c === c1) put(r, c);
}

// ellipse fills the box between two corners, row by row; its outline is what a filled one
// has that a filled one inside it has not.
export function ellipse(a, b, filled) {
  const [r0, r1] = [Math.min(a.row, b.row), Math.max(a.row, b.row)],
    [c0, c1] = [Math.min(a.column, b.column), Math.max(a.column, b.column)];
  const ry = (r1 - r0 + 1) / 2,
    rx = (c1 - c0 + 1) / 2,
    my = (r0 + r1) / 2,
    mx = (c0 + c1) / 2;
  const inside = (r, c) => ((r - my) / ry) ** 2 + ((c - mx) / rx) ** 2 <= 1;
  for (let r = r0; r <= r1; r++) {
    for (let c = c0; c <= c1; c++) {
      if (!inside(r, c)) continue;
      const edge = !inside(r + 1, c) || !inside(r - 1, c) || !inside(r, c + 1) || !inside(r, c - 1);
      if (filled || edge) put(r, c);
    }
  }
}

export function fill(at) {
  const from = home(at.row, at.column),
    old = d.cells[from.row - 1][from.column - 1],
    ch = brush();
  if (old === ch) return;
  const todo = [from];
  while (todo.length) {
    let { row, column } = todo.pop();
    if (d.wrap || d.repeat) ({ row, column } = home(row, column));
    if (d.cells[row - 1]?.[column - 1] !== old) continue;
    d.cells[row - 1][column - 1] = ch;
    todo.push(
      { row: row + 1, column },
      { row: row - 1, column },
      { row, column: column + 1 },
      { row, column: column - 1 },
    );
  }
  put(from.row, from.column);
}

// stamp lays the clipboard with its bottom left at a cell.
export function stamp(rows, at) {
  rows.forEach((r, y) => [...r].forEach((ch, x) => set(at.row + y, at.column + x, ch)));
}

// shape draws what the tool in hand makes between two cells.
export function shape(a, b) {
  if (d.tool === "line") line(a, b);
  else if (d.tool === "rectangle") rectangle(a, b, d.filled);
  else if (d.tool === "ellipse") ellipse(a, b, d.filled);
}

export const isShape = () => ["line", "rectangle", "ellipse"].includes(d.tool);
