// Commands: what the buttons beside the board do, and the keys that stand for them.
import { d, W, H, copyCells, $ } from "./state.js";
import { draw, fit, zoom, goTo } from "./board.js";
import { post, postForm, send, redraw, span } from "./server.js";
import { showPalette, showTools, says, markHere, choose, face } from "./tools.js";
import { cut, corners } from "./strokes.js";

function toClip(rows) {
  d.clip = rows;
  try {
    sessionStorage.setItem("clip", JSON.stringify(rows));
  } catch {
    /* it lasts as long as the page */
  }
  showTools();
}
const lines = (what, first, n, label) => redraw(label, { do: what, first, n });
const turn = (name, label) => redraw(label, { do: "transform", names: [name], ...span() });

// The first of the rows, or columns, that are selected, and how many; else the cursor's.
const rowsInHand = () => (d.selection ? [d.selection.y0, d.selection.y1 - d.selection.y0 + 1] : [d.cursor.row, 1]);
const columnsInHand = () =>
  d.selection ? [d.selection.x0, d.selection.x1 - d.selection.x0 + 1] : [d.cursor.column, 1];

export const acts = {
  undo: () => post("undo"),
  redo: () => post("redo"),
  "row+": () => lines("insert-rows", ...rowsInHand(), "insert rows"),
  "row-": () => H() > 1 && lines("delete-rows", ...rowsInHand(), "delete rows"),
  "col+": () => lines("insert-columns", ...columnsInHand(), "insert columns"),
  "col-": () => W() > 1 && lines("delete-columns", ...columnsInHand(), "delete columns"),
  mirror: () => turn("mirror", "mirror"),
  "upside-down": () => turn("upside-down", "upside down"),
  turn: () => turn("turn", "turn left"),
  "turn-right": () => turn("turn-right", "turn right"),
  invert: () => turn("invert", "exchange the two"),
  bounce: () => turn("bounce", "up and back"),
  "double-width": () => turn("double-width", "double width"),
  "double-length": () => turn("double-length", "double length"),
  "to-area": () => post("selection", { chart: d.s.chart, label: "area from the selection", edit: span() }),
  "to-chart": () => {
    const had = d.s.charts;
    post("selection", { chart: d.s.chart, label: "chart from the selection", text: "chart", edit: span() }, (s) => {
      const name = s.charts.find((c) => !had.includes(c));
      location.href = `/pieces/${s.piece}/draw?chart=${encodeURIComponent(name)}`;
    });
  },
  left: () => shift(-1, 0),
  right: () => shift(1, 0),
  up: () => shift(0, 1),
  down: () => shift(0, -1),
  bigger: () => zoom(1),
  less: () => zoom(-1),
  fit: () => {
    fit(true);
    draw();
  },
  copy: () => toClip(cut(d.selection || all(), false)),
  cut: () => {
    const before = copyCells();
    toClip(cut(d.selection || { ...corners(d.cursor, d.cursor) }, true));
    draw();
    send(before, "cut");
  },
  paste: () => {
    if (d.clip) choose("stamp");
  },
  clear: () => {
    if (!d.selection) return;
    const before = copyCells();
    cut(d.selection, true);
    draw();
    send(before, "clear");
  },
  all: () => {
    d.tool = "select";
    d.selection = all();
    showTools();
    draw();
  },
  mend: () => {
    const m = markHere();
    if (m) postForm("fix", new URLSearchParams({ index: m.index, code: m.code }));
  },
};
const all = () => ({ x0: 1, y0: 1, x1: W(), y1: H() });
export const shift = (dx, dy) => redraw("shift", { do: "shift", dx, dy, wrap: true, ...span() });

export function click(e) {
  const el = e.target.closest("button, .finding");
  if (!el || el.disabled) return;
  if (el.dataset.tool) choose(el.dataset.tool);
  if (el.dataset.mark) {
    d.mark = Number(el.dataset.mark);
    if (["pick", "erase"].includes(d.tool)) d.tool = "pencil";
    showPalette();
    showTools();
  }
  if (el.dataset.flag) {
    d[el.dataset.flag] = !d[el.dataset.flag];
    if (["square", "plainMarks", "letters", "yarnMarks"].includes(el.dataset.flag))
      localStorage.setItem("desk-" + el.dataset.flag, d[el.dataset.flag] ? "yes" : "no");
    showTools();
    draw();
  }
  if (el.dataset.face) {
    document.querySelectorAll(".face").forEach((f) => f.classList.toggle("is-on", f === el));
    face(el.dataset.face);
  }
  if (acts[el.dataset.do]) acts[el.dataset.do]();
  if (el.classList.contains("finding") && el.dataset.row > 0) {
    goTo(Number(el.dataset.row), Number(el.dataset.column));
    says();
  }
  if (el.closest(".tools, .desk-bar, .sheet-tools") && !document.querySelector("dialog[open]"))
    $("board").focus({ preventScroll: true });
}

// A fix is an edit like a stroke: its answer is the new state.
export function submit(e) {
  const form = e.target.closest("[data-fix]");
  if (!form) return;
  e.preventDefault();
  e.stopImmediatePropagation();
  postForm("fix", new URLSearchParams(new FormData(form)));
}
