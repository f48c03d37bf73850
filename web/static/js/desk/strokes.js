// Strokes: what a pointer draws, selects and drags, and what the keys do in its place. A
// stroke is painted at once and provisionally, and sent when it ends.
import { d, W, H, home, copyCells, brush, $ } from "./state.js";
import { put, line, fill, stamp, shape, isShape } from "./paint.js";
import { draw, cellAt, letGo, pinch } from "./board.js";
import { send, redraw, span } from "./server.js";
import { showPalette, showTools, says } from "./tools.js";

let fingers = new Map(),
  panned = null;

export function down(e) {
  fingers.set(e.pointerId, e);
  if (fingers.size > 1) {
    // two fingers move the board; what one had begun is taken back
    if (d.stroke?.before) d.cells = d.stroke.before.map((r) => [...r]);
    d.stroke = null;
    panned = between();
    draw();
    return;
  }
  const at = cellAt(e);
  if (!at || e.button) return;
  e.preventDefault();
  $("board").focus({ preventScroll: true });
  if (at.place) {
    // a row's number or a column's needle selects it
    d.tool = "select";
    const old = e.shiftKey && d.selection;
    d.selection =
      at.place === "row"
        ? { x0: 1, x1: W(), y0: Math.min(at.row, old?.y0 ?? at.row), y1: Math.max(at.row, old?.y1 ?? at.row) }
        : {
            y0: 1,
            y1: H(),
            x0: Math.min(at.column, old?.x0 ?? at.column),
            x1: Math.max(Math.min(at.column, W()), old?.x1 ?? at.column),
          };
    showTools();
    draw();
    return;
  }
  const base = home(at.row, at.column);
  if (d.tool === "pick") {
    pick(base);
    return;
  }
  if (d.tool === "stamp") {
    d.cursor = base;
    press();
    return;
  }
  $("cells").setPointerCapture(e.pointerId);
  d.stroke = { before: copyCells(), from: at, last: at };
  if (d.tool === "select") {
    const s = d.selection;
    if (s && at.column >= s.x0 && at.column <= s.x1 && at.row >= s.y0 && at.row <= s.y1)
      d.stroke.lifted = cut(s, false);
    else d.selection = { x0: base.column, x1: base.column, y0: base.row, y1: base.row };
  } else if (d.tool === "fill") fill(at);
  else if (d.tool === "replace") {
    d.stroke = null;
    replaceAll(base);
    return;
  } else if (isShape()) shape(at, at);
  else put(at.row, at.column);
  d.cursor = base;
  draw(true);
  says();
}

// between is the middle of two fingers, and how far apart they are.
function between() {
  const [a, b] = [...fingers.values()];
  return { x: (a.clientX + b.clientX) / 2, y: (a.clientY + b.clientY) / 2, apart: Math.max(20, Math.hypot(a.clientX - b.clientX, a.clientY - b.clientY)) };
}

export function move(e) {
  if (fingers.has(e.pointerId)) fingers.set(e.pointerId, e);
  if (fingers.size > 1 && panned) {
    const now = between();
    $("board").scrollLeft -= now.x - panned.x;
    $("board").scrollTop -= now.y - panned.y;
    pinch(now.apart / panned.apart, now);
    panned = now;
    return;
  }
  const at = cellAt(e);
  if (!at || at.place) return;
  if (!d.stroke) {
    if (d.tool === "stamp" && e.pointerType === "mouse") {
      d.cursor = home(at.row, at.column);
      draw(true);
    }
    return;
  }
  const stroke = d.stroke;
  if (d.tool === "fill" || (at.row === stroke.last.row && at.column === stroke.last.column)) return;
  if (d.tool === "select") {
    if (stroke.lifted) drag(stroke, at);
    else d.selection = corners(stroke.from, at);
  } else if (isShape()) {
    d.cells = stroke.before.map((r) => [...r]);
    shape(stroke.from, at);
  } else line(stroke.last, at);
  stroke.last = at;
  if (at.row >= 1 && at.row <= H() && at.column >= 1) d.cursor = home(at.row, at.column);
  draw(true);
}

export function up(e) {
  fingers.delete(e.pointerId);
  if (fingers.size < 2) {
    panned = null;
    letGo();
  }
  if (!d.stroke || d.stroke.keyed) return;
  const before = d.stroke.before;
  d.stroke = null;
  says();
  if (copyCells().join() !== before.join())
    send(
      before,
      {
        pencil: "draw",
        line: "line",
        rectangle: "rectangle",
        ellipse: "ellipse",
        fill: "fill",
        erase: "erase",
        select: "move",
      }[d.tool] || "draw",
    );
  draw();
}

export const corners = (a, b) => ({
  x0: Math.max(1, Math.min(a.column, b.column)),
  x1: Math.min(W(), Math.max(a.column, b.column)),
  y0: Math.max(1, Math.min(a.row, b.row)),
  y1: Math.min(H(), Math.max(a.row, b.row)),
});

// cut takes a selection's cells, and with clear leaves blanks behind.
export function cut(s, clear) {
  const rows = [];
  for (let r = s.y0; r <= s.y1; r++) {
    rows.push(d.cells[r - 1].slice(s.x0 - 1, s.x1).join(""));
    if (clear) for (let c = s.x0; c <= s.x1; c++) d.cells[r - 1][c - 1] = d.s.blank;
  }
  return rows;
}

// drag moves the selected cells with the pointer; with Ctrl held they are copied.
function drag(stroke, at) {
  const s = (stroke.at ??= { ...d.selection });
  d.cells = stroke.before.map((r) => [...r]);
  cut(s, true);
  const dx = at.column - stroke.from.column,
    dy = at.row - stroke.from.row;
  stamp(stroke.lifted, { row: s.y0 + dy, column: s.x0 + dx });
  d.selection = {
    x0: Math.max(1, s.x0 + dx),
    x1: Math.min(W(), s.x1 + dx),
    y0: Math.max(1, s.y0 + dy),
    y1: Math.min(H(), s.y1 + dy),
  };
}

function pick(at) {
  const i = d.s.palette.findIndex((m) => m.char === d.cells[at.row - 1][at.column - 1]);
  if (i >= 0) d.mark = i + 1;
  d.cursor = at;
  d.tool = "pencil";
  showPalette();
  showTools();
  draw();
}

function replaceAll(at) {
  const from = d.cells[at.row - 1][at.column - 1];
  if (from !== brush()) redraw("replace", { do: "replace", from, to: brush(), ...span() });
}

// press is Space or Enter: what a click of the tool in hand would do at the cursor.
export function press(alone = true) {
  const at = d.cursor,
    before = copyCells();
  if (d.tool === "pick") return pick(at);
  if (d.tool === "replace") return replaceAll(at);
  if (d.tool === "select") return;
  if (isShape()) {
    if (!d.stroke) {
      d.stroke = { before, from: { ...at }, last: at, keyed: true };
      shape(at, at);
      draw(true);
      return;
    }
    const from = d.stroke;
    d.stroke = null;
    d.cells = from.before.map((r) => [...r]);
    shape(from.from, at);
    send(from.before, d.tool);
    draw();
    return;
  }
  if (d.tool === "stamp") {
    if (d.clip) stamp(d.clip, at);
  } else if (d.tool === "fill") fill(at);
  else put(at.row, at.column);
  if (alone) draw();
  send(before, d.tool === "stamp" ? "stamp" : d.tool === "fill" ? "fill" : "draw");
}
