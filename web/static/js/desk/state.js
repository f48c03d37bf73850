// What the desk's modules share: the chart as the server sent it, the cells as they are
// painted meanwhile, the tool in hand. Rows count from 1 at the bottom, columns from 1 at
// the left, as the chart is drawn; a column beyond the last lies in the next repeat.
export const d = {
  s: null, // the state as the server sent it
  cells: [], // cells[row-1][column-1] = character
  tool: "pencil",
  filled: false,
  mark: 1, // of the palette, from 1
  rail: 0, // how often the rail is folded
  fitted: "", // "read" or "whole": the size goes with the window
  size: 0, // height of one pass on the board, in pixels
  square: false,
  repeat: false,
  plainMarks: false,
  letters: false, // yarns are told by their letters
  yarnMarks: false, // or by marks
  wrap: false,
  flipX: false,
  flipY: false,
  cursor: { row: 1, column: 1 },
  stroke: null, // { before, from, last } while one is drawn
  selection: null, // { x0, y0, x1, y1 }, both ends included
  clip: null, // rows of characters, the bottom row first, to be stamped
  waiting: 0, // answers on their way
};

export const W = () => d.cells[0].length;
export const H = () => d.cells.length;
export const mod = (n, m) => ((n % m) + m) % m;
export const copyCells = () => d.cells.map((r) => r.join(""));
export const brush = () => (d.tool === "erase" ? d.s.blank : d.s.palette[d.mark - 1].char);
export const look = (ch) => d.s.cells[ch] || { colour: "#999999" }; // how a character is drawn
export const $ = (id) => document.getElementById(id);

// home is the cell of the chart that stands at a row and column which may lie in another
// repeat: the server says with which of its rows each repeat begins.
export function home(row, column) {
  const k = Math.floor((column - 1) / W());
  return { row: mod(row + d.s.starts[mod(k, d.s.starts.length)] - 2, H()) + 1, column: column - k * W() };
}

const ns = "http://www.w3.org/2000/svg";
export function add(parent, name, attrs, text) {
  const el = document.createElementNS(ns, name);
  for (const k in attrs) el.setAttribute(k, attrs[k]);
  if (text !== undefined) el.textContent = text;
  parent.append(el);
  return el;
}

// path is a place in the chart's part of the piece file.
export const path = (end) => `/charts/${d.s.chart.replaceAll("~", "~0").replaceAll("/", "~1")}/${end}`;
