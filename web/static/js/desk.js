// The chart desk. It holds no rule of knitting: a stroke is painted at once and
// provisionally, sent, and what comes back is drawn.
import { d, W, H, home, copyCells, brush, dark, add, path, $ } from "./desk/state.js";
import { put, line, fill, stamp, shape, isShape } from "./desk/paint.js";
import { startBoard, draw, fit, zoom, cellAt, goTo, layout } from "./desk/board.js";
import { startPanels, showTyped } from "./desk/panels.js";

let board, sending = Promise.resolve();

export function startDesk() {
  const desk = $("desk");
  if (!desk) return;
  board = $("board");
  take(JSON.parse(desk.dataset.state));
  if (d.s.yarns.length > 1) d.mark = 2;
  try { d.clip = JSON.parse(sessionStorage.getItem("clip")); } catch { d.clip = null; }
  for (const key of ["square", "plainMarks"]) d[key] = localStorage.getItem("desk-" + key) === "yes";
  startBoard();
  startPanels({ post, postForm, choose, refuse });
  const canvas = $("cells");
  canvas.addEventListener("pointerdown", down);
  canvas.addEventListener("pointermove", move);
  for (const end of ["pointerup", "pointercancel"]) canvas.addEventListener(end, up);
  board.addEventListener("keydown", keys);
  board.addEventListener("copy", (e) => e.preventDefault());
  desk.addEventListener("click", click);
  $("more").addEventListener("click", click);
  desk.addEventListener("submit", submit);
  const at = new URLSearchParams(location.search);
  goTo(Number(at.get("row")) || 1, Number(at.get("column")) || 1);
  showPalette();
  showTools();
  says();
  board.focus({ preventScroll: true });
}

function take(state) {
  d.s = state;
  d.cells = state.rows.map((r) => [...r]).reverse();
  d.cursor.row = Math.min(d.cursor.row, H());
  d.cursor.column = Math.min(d.cursor.column, W());
  d.mark = Math.min(d.mark, state.yarns.length);
  if (d.selection && (d.selection.x1 > W() || d.selection.y1 > H())) d.selection = null;
  $("chart-name").textContent = state.chart;
  $("sheet-about").textContent = `${W()} × ${H()}, seen on the ${state.side} side` + (state.section ? ` · ${state.section}` : " · not placed yet");
  $("bar-sum").replaceChildren(...state.totals.flatMap((t, i) => {
    const b = document.createElement("b");
    b.textContent = t.N;
    return [i ? " · " : "", b, " " + t.Unit];
  }));
  for (const [name, can] of [["undo", state.canUndo], ["redo", state.canRedo]]) document.querySelector(`.tools [data-do=${name}]`).disabled = !can;
}

// --- the server --------------------------------------------------------------

const refuse = (words) => { $("refusal").textContent = words; };

// queue does one thing after another; an answer is shown when no later stroke is on its way.
function queue(ask, done) {
  d.waiting++;
  const began = performance.now();
  sending = sending.then(async () => {
    let state = null, error = "Vindel does not answer: the last stroke was not kept.";
    try {
      const answer = await ask();
      const got = await answer.json();
      if (answer.ok) state = got; else error = got.error;
    } catch { /* the words above say it */ }
    d.waiting--;
    refuse(state ? "" : error);
    const kept = Boolean(state);
    if (!state) state = await (await fetch(`/pieces/${d.s.piece}/state?chart=${encodeURIComponent(d.s.chart)}`, { headers: { Accept: "application/json" } })).json();
    if (!d.waiting && !d.stroke) show(state);
    if (kept) done?.(state);
    board.dataset.answered = (performance.now() - began).toFixed(1);
  });
  return sending;
}
const url = (what) => `/pieces/${d.s.piece}/${what}?chart=${encodeURIComponent(d.s.chart)}`;
const post = (what, body, done) => queue(() => fetch(url(what), { method: "POST", headers: { "Content-Type": "application/json", Accept: "application/json" }, body: JSON.stringify(body || {}) }), done);
const postForm = (what, form, done) => queue(() => fetch(url(what), { method: "POST", headers: { Accept: "application/json" }, body: form }), done);

// send asks for the rows that a stroke changed.
function send(before, label) {
  const now = copyCells(), changes = [];
  now.forEach((r, i) => { if (r !== before[i]) changes.push({ op: "replace", path: path(`rows/${now.length - 1 - i}`), value: r }); });
  if (changes.length) post("edit", { label, changes });
}

const redraw = (label, edit) => post("redraw", { chart: d.s.chart, label, edit });
const span = () => (d.selection ? { columns: [d.selection.x0, d.selection.x1], rows: [d.selection.y0, d.selection.y1] } : {});

function show(state) {
  take(state);
  showPalette();
  draw();
  says();
  const list = $("side-findings");
  list.innerHTML = state.findings;
  window.htmx?.process(list);
  face();
  board.dataset.head = d.s.head;
}

function face(side) {
  side ||= document.querySelector(".face.is-on").dataset.face;
  $("face").src = `/pieces/${d.s.piece}/fabric/${side}.svg?w=48&h=48&v=${d.s.head}`;
}

// --- what is shown round the board ---------------------------------------------

function showPalette() {
  $("yarns").replaceChildren(...d.s.yarns.map((y, i) => {
    const b = document.createElement("button");
    b.className = "yarn-pick" + (i + 1 === d.mark ? " is-on" : "");
    b.setAttribute("role", "radio");
    b.setAttribute("aria-checked", i + 1 === d.mark);
    b.setAttribute("aria-label", y.name);
    b.title = `${y.name} (${i + 1})`;
    b.dataset.key = String(i + 1);
    b.dataset.mark = i + 1;
    const svg = document.createElementNS("http://www.w3.org/2000/svg", "svg");
    svg.setAttribute("viewBox", "0 0 30 30");
    add(svg, "rect", { x: 1, y: 1, width: 28, height: 28, rx: 6, fill: y.colour });
    const pen = { fill: "none", stroke: dark(y.colour) ? "#fffdf8" : "#1d2624", "stroke-width": 2.6, "stroke-linecap": "round" };
    const line = { tuck: "M15 5v8M15 13a5 5 0 110 10a5 5 0 110-10", slip: "M15 7v16", purl: "M8 15h14", weave: "M5 12h20M5 18h20", over: "M15 9a6 6 0 110 12a6 6 0 110-12", right: "M9 24L21 6M22 24L17 15", left: "M21 24L9 6M8 24L13 15", centre: "M7 24L15 14L23 24M15 6V24", none: "M7 24L12 6M13 24L18 6M19 24L24 6" }[y.stitch];
    if (line) add(svg, "path", { ...pen, d: line });
    const letter = document.createElement("b");
    letter.textContent = d.s.yarns.some((m) => m.stitch) ? i + 1 : y.id;
    b.append(svg, letter);
    return b;
  }));
}

function showTools() {
  document.querySelectorAll("[data-tool]").forEach((t) => {
    t.classList.toggle("is-on", t.dataset.tool === d.tool);
    t.classList.toggle("is-filled", d.filled && ["rectangle", "ellipse"].includes(t.dataset.tool));
  });
  document.querySelectorAll("[data-flag]").forEach((t) => {
    t.classList.toggle("is-on", d[t.dataset.flag]);
    t.setAttribute("aria-pressed", d[t.dataset.flag]);
  });
  document.querySelector("[data-tool=stamp]").disabled = !d.clip;
}

function says() {
  const at = d.cursor, ch = d.cells[at.row - 1][at.column - 1], y = d.s.yarns.find((y) => y.char === ch), p = d.s.rail[at.row]?.[0];
  const m = markHere();
  $("cursor-says").textContent = `row ${at.row}, column ${at.column}` + (d.s.needles?.[at.column - 1] ? `, needle ${d.s.needles[at.column - 1]}` : "") + (y ? `: ${y.name}` : "") + (p ? `, counter ${p.counter} after it` : "") + (p?.text ? `; before it ${p.text}` : "") + balance(at.row);
  $("cursor-says").title = $("cursor-says").textContent;
  const mend = $("mend");
  mend.hidden = !m;
  if (m) mend.firstChild.textContent = m.fix + " ";
  showTyped();
}

// balance says, in lace, by how many stitches a row changes the count, as it is drawn.
function balance(row) {
  const n = d.s.uses ? d.cells[row - 1].reduce((sum, ch) => sum + (d.s.uses[ch] || 0), 0) : 0;
  if (!d.s.uses) return "";
  return n === 0 ? "; uses as many stitches as it makes" : `; makes ${Math.abs(n)} ${n < 0 ? "more" : "fewer"} than it uses`;
}

const markHere = () => d.s.marks.find((m) => m.canFix && m.row === d.cursor.row && m.columns.includes(d.cursor.column));

function choose(tool) {
  if (tool === d.tool && ["rectangle", "ellipse"].includes(tool)) d.filled = !d.filled;
  if (tool !== "select") d.selection = null;
  d.tool = tool;
  d.stroke = null;
  showTools();
  draw();
}

// --- strokes -------------------------------------------------------------------

let fingers = new Map(), panned = null;

function down(e) {
  fingers.set(e.pointerId, e);
  if (fingers.size > 1) { // two fingers move the board; what one had begun is taken back
    if (d.stroke?.before) d.cells = d.stroke.before.map((r) => [...r]);
    d.stroke = null;
    panned = { x: e.clientX, y: e.clientY };
    draw();
    return;
  }
  const at = cellAt(e);
  if (!at || e.button) return;
  e.preventDefault();
  board.focus({ preventScroll: true });
  if (at.place) { // a row's number or a column's needle selects it
    d.tool = "select";
    const old = e.shiftKey && d.selection;
    d.selection = at.place === "row" ? { x0: 1, x1: W(), y0: Math.min(at.row, old?.y0 ?? at.row), y1: Math.max(at.row, old?.y1 ?? at.row) }
      : { y0: 1, y1: H(), x0: Math.min(at.column, old?.x0 ?? at.column), x1: Math.max(Math.min(at.column, W()), old?.x1 ?? at.column) };
    showTools();
    draw();
    return;
  }
  const base = home(at.row, at.column);
  if (d.tool === "pick") { pick(base); return; }
  if (d.tool === "stamp") { d.cursor = base; press(); return; }
  $("cells").setPointerCapture(e.pointerId);
  d.stroke = { before: copyCells(), from: at, last: at };
  if (d.tool === "select") {
    const s = d.selection;
    if (s && at.column >= s.x0 && at.column <= s.x1 && at.row >= s.y0 && at.row <= s.y1) d.stroke.lifted = cut(s, false);
    else d.selection = { x0: base.column, x1: base.column, y0: base.row, y1: base.row };
  } else if (d.tool === "fill") fill(at);
  else if (d.tool === "replace") { d.stroke = null; replaceAll(base); return; }
  else if (isShape()) shape(at, at);
  else put(at.row, at.column);
  d.cursor = base;
  draw(true);
  says();
}

function move(e) {
  if (fingers.has(e.pointerId)) fingers.set(e.pointerId, e);
  if (fingers.size > 1 && panned) {
    board.scrollLeft -= e.clientX - panned.x;
    board.scrollTop -= e.clientY - panned.y;
    panned = { x: e.clientX, y: e.clientY };
    return;
  }
  const at = cellAt(e);
  if (!at || at.place) return;
  if (!d.stroke) {
    if (d.tool === "stamp" && e.pointerType === "mouse") { d.cursor = home(at.row, at.column); draw(true); }
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

function up(e) {
  fingers.delete(e.pointerId);
  if (!fingers.size) panned = null;
  if (!d.stroke || d.stroke.keyed) return;
  const before = d.stroke.before;
  d.stroke = null;
  says();
  if (copyCells().join() !== before.join()) send(before, { pencil: "draw", line: "line", rectangle: "rectangle", ellipse: "ellipse", fill: "fill", erase: "erase", select: "move" }[d.tool] || "draw");
  draw();
}

const corners = (a, b) => ({ x0: Math.max(1, Math.min(a.column, b.column)), x1: Math.min(W(), Math.max(a.column, b.column)), y0: Math.max(1, Math.min(a.row, b.row)), y1: Math.min(H(), Math.max(a.row, b.row)) });

// cut takes a selection's cells, and with clear leaves blanks behind.
function cut(s, clear) {
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
  const dx = at.column - stroke.from.column, dy = at.row - stroke.from.row;
  stamp(stroke.lifted, { row: s.y0 + dy, column: s.x0 + dx });
  d.selection = { x0: Math.max(1, s.x0 + dx), x1: Math.min(W(), s.x1 + dx), y0: Math.max(1, s.y0 + dy), y1: Math.min(H(), s.y1 + dy) };
}

function pick(at) {
  const i = d.s.yarns.findIndex((y) => y.char === d.cells[at.row - 1][at.column - 1]);
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
function press(alone = true) {
  const at = d.cursor, before = copyCells();
  if (d.tool === "pick") return pick(at);
  if (d.tool === "replace") return replaceAll(at);
  if (d.tool === "select") return;
  if (isShape()) {
    if (!d.stroke) { d.stroke = { before, from: { ...at }, last: at, keyed: true }; shape(at, at); draw(true); return; }
    const from = d.stroke;
    d.stroke = null;
    d.cells = from.before.map((r) => [...r]);
    shape(from.from, at);
    send(from.before, d.tool);
    draw();
    return;
  }
  if (d.tool === "stamp") { if (d.clip) stamp(d.clip, at); }
  else if (d.tool === "fill") fill(at);
  else put(at.row, at.column);
  if (alone) draw();
  send(before, d.tool === "stamp" ? "stamp" : d.tool === "fill" ? "fill" : "draw");
}

// --- commands --------------------------------------------------------------------

function toClip(rows) {
  d.clip = rows;
  try { sessionStorage.setItem("clip", JSON.stringify(rows)); } catch { /* it lasts as long as the page */ }
  showTools();
}
const lines = (what, first, n, label) => redraw(label, { do: what, first, n });
const turn = (name, label) => redraw(label, { do: "transform", names: [name], ...span() });
const acts = {
  undo: () => post("undo"), redo: () => post("redo"),
  "row+": () => lines("insert-rows", d.selection?.y0 ?? d.cursor.row, d.selection ? d.selection.y1 - d.selection.y0 + 1 : 1, "insert rows"),
  "row-": () => H() > 1 && lines("delete-rows", d.selection?.y0 ?? d.cursor.row, d.selection ? d.selection.y1 - d.selection.y0 + 1 : 1, "delete rows"),
  "col+": () => lines("insert-columns", d.selection?.x0 ?? d.cursor.column, d.selection ? d.selection.x1 - d.selection.x0 + 1 : 1, "insert columns"),
  "col-": () => W() > 1 && lines("delete-columns", d.selection?.x0 ?? d.cursor.column, d.selection ? d.selection.x1 - d.selection.x0 + 1 : 1, "delete columns"),
  mirror: () => turn("mirror", "mirror"), "upside-down": () => turn("upside-down", "upside down"), turn: () => turn("turn", "turn left"), "turn-right": () => turn("turn-right", "turn right"),
  invert: () => turn("invert", "exchange the two"), bounce: () => turn("bounce", "up and back"), "double-width": () => turn("double-width", "double width"), "double-length": () => turn("double-length", "double length"),
  left: () => shift(-1, 0), right: () => shift(1, 0), up: () => shift(0, 1), down: () => shift(0, -1),
  bigger: () => zoom(1), less: () => zoom(-1), fit: () => { fit(); draw(); },
  copy: () => toClip(cut(d.selection || all(), false)),
  cut: () => { const before = copyCells(); toClip(cut(d.selection || { ...corners(d.cursor, d.cursor) }, true)); draw(); send(before, "cut"); },
  paste: () => { if (d.clip) choose("stamp"); },
  clear: () => { if (!d.selection) return; const before = copyCells(); cut(d.selection, true); draw(); send(before, "clear"); },
  all: () => { d.tool = "select"; d.selection = all(); showTools(); draw(); },
  mend: () => { const m = markHere(); if (m) postForm("fix", new URLSearchParams({ index: m.index, code: m.code })); },
};
const all = () => ({ x0: 1, y0: 1, x1: W(), y1: H() });
const shift = (dx, dy) => redraw("shift", { do: "shift", dx, dy, wrap: true, ...span() });

function click(e) {
  const el = e.target.closest("button, .finding");
  if (!el || el.disabled) return;
  if (el.dataset.tool) choose(el.dataset.tool);
  if (el.dataset.mark) { d.mark = Number(el.dataset.mark); if (["pick", "erase"].includes(d.tool)) d.tool = "pencil"; showPalette(); showTools(); }
  if (el.dataset.flag) {
    d[el.dataset.flag] = !d[el.dataset.flag];
    if (["square", "plainMarks"].includes(el.dataset.flag)) localStorage.setItem("desk-" + el.dataset.flag, d[el.dataset.flag] ? "yes" : "no");
    showTools();
    draw();
  }
  if (el.dataset.face) {
    document.querySelectorAll(".face").forEach((f) => f.classList.toggle("is-on", f === el));
    face(el.dataset.face);
  }
  if (acts[el.dataset.do]) acts[el.dataset.do]();
  if (el.classList.contains("finding") && el.dataset.row > 0) { goTo(Number(el.dataset.row), Number(el.dataset.column)); says(); }
  if (el.closest(".tools, .desk-bar, .sheet-tools") && !document.querySelector("dialog[open]")) board.focus({ preventScroll: true });
}

// A fix is an edit like a stroke: its answer is the new state.
function submit(e) {
  const form = e.target.closest("[data-fix]");
  if (!form) return;
  e.preventDefault();
  e.stopImmediatePropagation();
  postForm("fix", new URLSearchParams(new FormData(form)));
}

function keys(e) {
  const ctrl = e.ctrlKey || e.metaKey;
  const step = { ArrowUp: [1, 0], ArrowDown: [-1, 0], ArrowRight: [0, 1], ArrowLeft: [0, -1] }[e.key];
  const done = () => { e.preventDefault(); e.stopPropagation(); };
  if (step && !e.altKey) {
    done();
    if (ctrl && e.shiftKey) return shift(step[1], step[0]);
    if (ctrl) return byRepeat(step);
    if (e.shiftKey) {
      d.tool = "select";
      d.anchor ??= { ...d.cursor };
      goTo(d.cursor.row + step[0], d.cursor.column + step[1]);
      d.selection = corners(d.anchor, d.cursor);
      showTools();
    } else {
      d.anchor = null;
      goTo(d.cursor.row + step[0], d.cursor.column + step[1]);
      if (d.stroke?.keyed) { d.cells = d.stroke.before.map((r) => [...r]); shape(d.stroke.from, d.cursor); draw(true); }
    }
    return says();
  }
  const act = ctrl && { c: "copy", x: "cut", v: "paste", a: "all" }[e.key.toLowerCase()];
  if (act) { done(); acts[act](); return; }
  switch (e.key) {
    case "Home": case "End": done(); goTo(d.cursor.row, e.key === "Home" ? 1 : W()); return says();
    case "PageUp": case "PageDown": done(); goTo(d.cursor.row + (e.key === "PageUp" ? 10 : -10), d.cursor.column); return says();
    case "Backspace": if (d.selection) { done(); acts.clear(); } return;
    case "Escape":
      if (d.stroke?.keyed) { d.cells = d.stroke.before.map((r) => [...r]); d.stroke = null; }
      d.selection = d.anchor = null;
      if (d.tool === "stamp") choose("pencil");
      draw();
      return;
    case " ": case "Enter":
      done();
      press(false);
      if (e.key === " " && !isShape() && !["stamp", "fill", "select"].includes(d.tool)) goTo(d.cursor.row, d.cursor.column === W() ? 1 : d.cursor.column + 1); else draw();
      says();
  }
}

// byRepeat moves by a repeat: sideways over the needles that show the same column, which
// the line below the board names; upward to the first and last row.
function byRepeat([dr, dc]) {
  if (dr) { goTo(dr > 0 ? H() : 1, d.cursor.column); return says(); }
  const list = d.s.repeats?.[d.cursor.column - 1] || [];
  d.nth = ((d.nth ?? 0) + dc + list.length) % Math.max(1, list.length);
  says();
  if (list.length) $("cursor-says").textContent += `; repeat ${d.nth + 1} of ${list.length}: needle ${list[d.nth]}`;
}
