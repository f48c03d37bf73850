// The chart desk: cells on a canvas, the row rail beside them, one scroll for both. It
// holds no rule of knitting: a stroke is painted at once and provisionally, sent, and
// what comes back is drawn. Rows here count from 1 at the bottom, columns from 1 at
// the left, as the chart is drawn.

let s = null; // the state as the server sent it
let board, canvas, rail, ctx;
let cells = []; // cells[row-1][column-1] = character
let tool = "pencil", yarn = 1, size = 0;
let cursor = { row: 1, column: 1 };
let stroke = null; // { before: copy of cells, from, last }
let sending = Promise.resolve(), waiting = 0;

const left = 48, top = 8, foot = 46;

export function startDesk() {
  const desk = document.getElementById("desk");
  if (!desk) return;
  board = document.getElementById("board");
  canvas = document.getElementById("cells");
  rail = document.getElementById("rail");
  ctx = canvas.getContext("2d");
  take(JSON.parse(desk.dataset.state));
  if (s.yarns.length > 1) yarn = 2;
  fit();
  showYarns();
  board.addEventListener("scroll", draw, { passive: true });
  new ResizeObserver(() => { fit(true); draw(); }).observe(board);
  canvas.addEventListener("pointerdown", down);
  canvas.addEventListener("pointermove", move);
  canvas.addEventListener("pointerup", up);
  canvas.addEventListener("pointercancel", up);
  board.addEventListener("keydown", keys);
  document.addEventListener("theme", draw);
  desk.addEventListener("click", click);
  desk.addEventListener("submit", submit);
  document.fonts?.ready.then(draw);
  const at = new URLSearchParams(location.search);
  if (at.get("row")) goTo(Number(at.get("row")), Number(at.get("column") || 1));
  says(cursor);
  board.focus({ preventScroll: true });
}

function take(state) {
  s = state;
  cells = s.rows.map((r) => [...r]).reverse();
  cursor.row = Math.min(cursor.row, cells.length);
  cursor.column = Math.min(cursor.column, cells[0].length);
  document.getElementById("chart-name").textContent = s.chart;
  document.getElementById("sheet-about").textContent = `${cells[0].length} × ${cells.length}, seen on the ${s.side} side` + (s.section ? ` · ${s.section}` : " · not placed yet");
  const sum = document.getElementById("bar-sum");
  sum.replaceChildren(...s.totals.flatMap((t, i) => {
    const b = document.createElement("b");
    b.textContent = t.N;
    return [i ? " · " : "", b, " " + t.Unit];
  }));
  for (const [name, can] of [["undo", s.canUndo], ["redo", s.canRedo]]) document.querySelector(`.tools [data-do=${name}]`).disabled = !can;
}

// --- where things are -------------------------------------------------------

const bands = () => { // how tall each row is, in passes; a row of two passes is twice as tall
  const list = [];
  for (let r = 1; r <= cells.length; r++) list.push(Math.max(1, (s.rail[r] || []).length));
  return list;
};

function layout() {
  const b = bands(), below = s.below.length;
  const h = size, tops = [];
  let y = top;
  for (let r = cells.length; r >= 1; r--) {
    tops[r] = y;
    y += h * b[r - 1];
  }
  return { tops, band: b, bottom: y, height: y + below * h + foot, w: cellW(), repeat: cells[0].length * cellW() };
}

const cellW = () => Math.round(size * 0.78);

function fit(keep) {
  if (!size || !keep) {
    const room = (board.clientHeight - top - foot - 16) / Math.max(1, bands().reduce((a, b) => a + b, 0) + s.below.length);
    const wide = (board.clientWidth * 0.26) / Math.max(1, cells[0].length) / 0.78;
    size = Math.max(18, Math.min(34, Math.floor(Math.min(room, wide))));
  }
}

// --- drawing ----------------------------------------------------------------

const css = (name) => getComputedStyle(document.body).getPropertyValue(name).trim();
const colour = (ch) => s.colours[ch] || "#999";

function draw() {
  const l = layout();
  const vw = board.clientWidth, vh = board.clientHeight, ratio = devicePixelRatio || 1;
  const ghosts = Math.max(0, Math.min(1, Math.floor((vw - left - l.repeat - 440) / l.w / cells[0].length * 2) / 2));
  const shown = l.repeat * (1 + ghosts);
  const box = document.getElementById("board-size");
  setSize(box, Math.max(left + shown + 440, 10), l.height);
  if (canvas.width !== Math.round(vw * ratio) || canvas.height !== Math.round(vh * ratio)) {
    canvas.width = Math.round(vw * ratio);
    canvas.height = Math.round(vh * ratio);
    canvas.style.width = vw + "px";
    canvas.style.height = vh + "px";
  }
  const sx = board.scrollLeft, sy = board.scrollTop;
  ctx.setTransform(ratio, 0, 0, ratio, -sx * ratio, -sy * ratio);
  ctx.fillStyle = css("--sheet");
  ctx.fillRect(sx, sy, vw, vh);
  const ink = css("--ink"), quiet = css("--band"), now = css("--now");
  const first = 1 + Math.max(0, Math.floor((sx - left) / l.w));
  for (let r = 1; r <= cells.length; r++) {
    const y = l.tops[r], h = size * l.band[r - 1];
    if (y + h < sy || y > sy + vh) continue;
    if (r % 2 === 0) { ctx.fillStyle = quiet; ctx.fillRect(0, y, Math.max(vw + sx, left + shown + 500), h); }
    if (r === cursor.row) { ctx.fillStyle = now; ctx.fillRect(0, y, Math.max(vw + sx, left + shown + 500), h); }
    for (let ghost = 0; ghost < 1 + Math.ceil(ghosts); ghost++) {
      ctx.globalAlpha = ghost ? 0.5 : 1;
      for (let c = ghost ? 1 : first; c <= cells[0].length; c++) {
        const x = left + ghost * l.repeat + (c - 1) * l.w;
        if (x > sx + vw || x >= left + shown) break;
        ctx.fillStyle = colour(cells[r - 1][c - 1]);
        ctx.beginPath();
        ctx.roundRect(x + 0.5, y + 0.5, l.w - 1, h - 1, 2.5);
        ctx.fill();
      }
    }
    ctx.globalAlpha = 1;
  }
  drawSymbols(l, shown, sx, sy, vw, vh);
  // A thin line round every cell keeps cells apart where the yarn is the paper's colour.
  ctx.strokeStyle = ink;
  ctx.globalAlpha = 0.13;
  ctx.lineWidth = 1;
  ctx.beginPath();
  for (let c = 0; c <= cells[0].length; c++) { const x = left + c * l.w; ctx.moveTo(x, top); ctx.lineTo(x, l.bottom); }
  for (let r = 1; r <= cells.length; r++) { ctx.moveTo(left, l.tops[r]); ctx.lineTo(left + l.repeat, l.tops[r]); }
  ctx.stroke();
  ctx.globalAlpha = 1;
  ctx.lineWidth = 1.5;
  ctx.strokeRect(left, top, l.repeat, l.bottom - top);
  for (const m of s.marks) {
    ctx.strokeStyle = css(m.severity === "stop" ? "--stop" : "--warn");
    ctx.lineWidth = 2;
    for (const c of m.columns) {
      const x = left + (c - 1) * l.w, y = l.tops[m.row] + size * l.band[m.row - 1] - 3;
      ctx.beginPath(); ctx.moveTo(x + 2, y); ctx.lineTo(x + l.w - 2, y); ctx.stroke();
    }
  }
  ctx.strokeStyle = css("--spruce-2");
  ctx.lineWidth = 3;
  ctx.strokeRect(left + (cursor.column - 1) * l.w + 1, l.tops[cursor.row] + 1, l.w - 2, size * l.band[cursor.row - 1] - 2);
  drawRail(l, left + shown + 14, sx, sy, vw, vh);
}

// drawSymbols marks the cells that are not plain knit, with marks of our own: a hanging
// bead for a tuck, an upright for a slipped stitch, a bar for a purl, a band for the woven yarn.
const symbols = {
  tuck: (x, y, w, h) => { const r = Math.min(w, h) * 0.2; ctx.moveTo(x + w * 0.5, y + h * 0.12); ctx.lineTo(x + w * 0.5, y + h * 0.62 - r); ctx.moveTo(x + w * 0.5 + r, y + h * 0.62); ctx.arc(x + w * 0.5, y + h * 0.62, r, 0, 7); },
  slip: (x, y, w, h) => { ctx.moveTo(x + w * 0.5, y + h * 0.15); ctx.lineTo(x + w * 0.5, y + h * 0.85); },
  purl: (x, y, w, h) => { ctx.moveTo(x + w * 0.2, y + h * 0.5); ctx.lineTo(x + w * 0.8, y + h * 0.5); },
  over: (x, y, w, h) => { const r = Math.min(w, h) * 0.27; ctx.moveTo(x + w * 0.5 + r, y + h * 0.5); ctx.arc(x + w * 0.5, y + h * 0.5, r, 0, 7); },
  right: (x, y, w, h) => { ctx.moveTo(x + w * 0.24, y + h * 0.8); ctx.lineTo(x + w * 0.76, y + h * 0.2); },
  left: (x, y, w, h) => { ctx.moveTo(x + w * 0.76, y + h * 0.8); ctx.lineTo(x + w * 0.24, y + h * 0.2); },
  centre: (x, y, w, h) => { ctx.moveTo(x + w * 0.2, y + h * 0.8); ctx.lineTo(x + w * 0.5, y + h * 0.22); ctx.lineTo(x + w * 0.8, y + h * 0.8); ctx.moveTo(x + w * 0.5, y + h * 0.22); ctx.lineTo(x + w * 0.5, y + h * 0.8); },
  none: (x, y, w, h) => { for (let i = 0; i < 3; i++) { ctx.moveTo(x + w * (0.15 + 0.28 * i), y + h * 0.85); ctx.lineTo(x + w * (0.35 + 0.28 * i), y + h * 0.15); } },
  weave: (x, y, w, h) => { ctx.moveTo(x + 1, y + h * 0.42); ctx.lineTo(x + w - 1, y + h * 0.42); ctx.moveTo(x + 1, y + h * 0.6); ctx.lineTo(x + w - 1, y + h * 0.6); },
};

function drawSymbols(l, shown, sx, sy, vw, vh) {
  if (!Object.keys(s.symbols).length) return;
  ctx.lineWidth = 2.2;
  for (let r = 1; r <= cells.length; r++) {
    const y = l.tops[r], h = size * l.band[r - 1];
    if (y + h < sy || y > sy + vh) continue;
    for (let i = 0; i * l.w < shown; i++) { // the repeat, and its faded neighbour
      const ch = cells[r - 1][i % cells[0].length], mark = symbols[s.symbols[ch]], x = left + i * l.w;
      if (!mark || x + l.w < sx || x > sx + vw) continue;
      ctx.globalAlpha = i < cells[0].length ? 1 : 0.45;
      ctx.strokeStyle = dark(colour(ch)) ? "#fffdf8" : "#1d2624";
      ctx.beginPath();
      const side = Math.min(h, l.w * 1.35); // marks keep their shape in a band of several passes
      mark(x, y + (h - side) / 2, l.w, side);
      ctx.stroke();
    }
  }
  ctx.globalAlpha = 1;
}

const dark = (hex) => parseInt(hex.slice(1, 3), 16) * 0.3 + parseInt(hex.slice(3, 5), 16) * 0.59 + parseInt(hex.slice(5, 7), 16) * 0.11 < 130;

function setSize(el, w, h) {
  el.style.width = w + "px";
  el.style.height = h + "px";
}

const ns = "http://www.w3.org/2000/svg";
function add(parent, name, attrs, text) {
  const el = document.createElementNS(ns, name);
  for (const k in attrs) el.setAttribute(k, attrs[k]);
  if (text !== undefined) el.textContent = text;
  parent.append(el);
  return el;
}

const yarnColour = (id) => s.threads[id] || s.yarns.find((y) => y.id === id)?.colour || "none";

// drawRail puts, on each row's own line: its number, and per pass the counter after
// it, the way, a thread for each feeder, and what changes before it.
function drawRail(l, x, sx, sy, vw, vh) {
  rail.replaceChildren();
  rail.setAttribute("width", vw);
  rail.setAttribute("height", vh);
  rail.style.marginTop = -vh + "px";
  const g = add(rail, "g", { transform: `translate(${-sx} ${-sy})` });
  const row = (p, y) => {
    const mid = y + size / 2;
    if (p.lace) {
      add(g, "path", { class: "rail-arrow", d: `M${x + 46} ${mid - 3.5}h16m-4-3.500l4 3.500M${x + 62} ${mid + 3.5}h-16m4 3.500l-4-3.500` });
      add(g, "text", { class: "rail-lace", x: x + 34, y: mid + 5 }, `${p.lace}×`);
      add(g, "text", { class: "rail-text", x: x + 84 + 24 * s.feeders + 2, y: mid + 5 }, ["lace carriage" + (p.lines ? `, lines ${p.lines}` : ""), p.text.replace(/,? ?lace carriage on/, "")].filter(Boolean).join(", "));
      p.feeders.forEach((_, f) => add(g, "path", { class: "rail-empty", d: `M${x + 84 + 24 * f} ${y}v${size}` }));
      return;
    }
    add(g, "text", { class: "rail-counter", x: x + 34, y: mid + 5 }, p.counter);
    add(g, "path", { class: "rail-arrow", d: p.dir === "right" ? `M${x + 46} ${mid}h16m-5-4l5 4-5 4` : `M${x + 62} ${mid}h-16m5-4l-5 4 5 4` });
    p.feeders.forEach((id, f) => {
      const at = x + 84 + 24 * f;
      if (!id) return add(g, "path", { class: "rail-empty", d: `M${at} ${y}v${size}` });
      add(g, "path", { class: "rail-edge", "stroke-width": 9.5, d: `M${at} ${y}v${size}` });
      add(g, "path", { stroke: yarnColour(id), "stroke-width": 8, d: `M${at} ${y - 0.5}v${size + 1}` });
    });
    p.knots.forEach((k, f) => { if (k) add(g, "circle", { class: "rail-knot", cx: x + 84 + 24 * f, cy: y + size - 2, r: 5.5 }); });
    if (p.text) add(g, "text", { class: "rail-text", x: x + 84 + 24 * s.feeders + 2, y: mid + 5 }, p.text);
  };
  for (let r = 1; r <= cells.length; r++) {
    const y = l.tops[r];
    if (y + size * l.band[r - 1] < sy - 20 || y > sy + vh + 20) continue;
    add(g, "text", { class: "rail-row", x: left - 12, y: y + size * l.band[r - 1] / 2 + 5 }, r);
    (s.rail[r] || []).forEach((p, i) => row(p, y + size * (l.band[r - 1] - 1 - i)));
  }
  s.below.forEach((p, i) => row({ ...p, text: ["selecting pass", p.text].filter(Boolean).join(", ") }, l.bottom + size * (s.below.length - 1 - i)));
  const under = l.bottom + 18;
  const n = s.needles || [];
  const last = cells[0].length;
  for (const c of new Set([1, Math.ceil(last / 2), last])) if (n[c - 1] && (last * l.w > 130 || c !== Math.ceil(last / 2))) add(g, "text", { class: "rail-needle", x: left + (c - 0.5) * l.w, y: under }, n[c - 1]);
  const words = under + s.below.length * size;
  if (Object.keys(s.rail).length) {
    add(g, "text", { class: "rail-word", x: x + 4, y: words }, "counter");
    for (let f = 0; f < s.feeders; f++) add(g, "text", { class: "rail-word", x: x + 81 + 24 * f, y: words }, f + 1);
    add(g, "text", { class: "rail-word", x: x + 84 + 24 * s.feeders + 2, y: words }, "what changes before the row");
  }
}

function showYarns() {
  const list = document.getElementById("yarns");
  list.replaceChildren(...s.yarns.map((y, i) => {
    const b = document.createElement("button");
    b.className = "yarn-pick" + (i + 1 === yarn ? " is-on" : "");
    b.setAttribute("role", "radio");
    b.setAttribute("aria-checked", i + 1 === yarn);
    b.setAttribute("aria-label", y.name);
    b.title = `${y.name} (${i + 1})`;
    b.dataset.key = String(i + 1);
    b.dataset.yarn = i + 1;
    const svg = document.createElementNS(ns, "svg");
    svg.setAttribute("viewBox", "0 0 30 30");
    add(svg, "rect", { x: 1, y: 1, width: 28, height: 28, rx: 6, fill: y.colour });
    const pen = { fill: "none", stroke: dark(y.colour) ? "#fffdf8" : "#1d2624", "stroke-width": 2.6, "stroke-linecap": "round" };
    const d = { tuck: "M15 5v8M15 13a5 5 0 110 10a5 5 0 110-10", slip: "M15 7v16", purl: "M8 15h14", weave: "M5 12h20M5 18h20" }[y.stitch];
    if (d) add(svg, "path", { ...pen, d });
    const letter = document.createElement("b");
    letter.textContent = y.id;
    b.append(svg, letter);
    return b;
  }));
}

// --- strokes ----------------------------------------------------------------

function cellAt(e) {
  const r = canvas.getBoundingClientRect(), l = layout();
  const x = e.clientX - r.left + board.scrollLeft - left, y = e.clientY - r.top + board.scrollTop;
  const column = Math.floor(x / l.w) + 1;
  for (let row = 1; row <= cells.length; row++) {
    if (y >= l.tops[row] && y < l.tops[row] + size * l.band[row - 1] && column >= 1 && column <= cells[0].length) return { row, column };
  }
  return null;
}

const brush = () => (tool === "erase" ? s.blank : s.yarns[yarn - 1].char);

function paint(row, column) {
  if (row < 1 || row > cells.length || column < 1 || column > cells[0].length) return;
  cells[row - 1][column - 1] = brush();
  s.colours[brush()] ??= s.yarns[yarn - 1].colour;
  if (s.yarns[yarn - 1].stitch) s.symbols[brush()] ??= s.yarns[yarn - 1].stitch;
}

function line(a, b) {
  const n = Math.max(Math.abs(a.row - b.row), Math.abs(a.column - b.column), 1);
  for (let i = 0; i <= n; i++) paint(Math.round(a.row + (b.row - a.row) * i / n), Math.round(a.column + (b.column - a.column) * i / n));
}

function fill(at) {
  const old = cells[at.row - 1][at.column - 1];
  if (old === brush()) return;
  const todo = [at];
  while (todo.length) {
    const { row, column } = todo.pop();
    if (cells[row - 1]?.[column - 1] !== old) continue;
    paint(row, column);
    todo.push({ row: row + 1, column }, { row: row - 1, column }, { row, column: column + 1 }, { row, column: column - 1 });
  }
}

const copy = () => cells.map((r) => r.join(""));

function down(e) {
  const at = cellAt(e);
  if (!at || e.button) return;
  e.preventDefault();
  board.focus({ preventScroll: true });
  cursor = at;
  if (tool === "pick") {
    const y = s.yarns.findIndex((y) => y.char === cells[at.row - 1][at.column - 1]);
    if (y >= 0) { yarn = y + 1; showYarns(); }
    draw();
    return;
  }
  canvas.setPointerCapture(e.pointerId);
  stroke = { before: copy(), from: at, last: at };
  if (tool === "fill") fill(at); else paint(at.row, at.column);
  draw();
}

function move(e) {
  const at = cellAt(e);
  if (at) says(at);
  if (!stroke || !at || tool === "fill") return;
  if (tool === "line") cells = stroke.before.map((r) => [...r]);
  line(tool === "line" ? stroke.from : stroke.last, at);
  stroke.last = cursor = at;
  draw();
}

function up() {
  if (!stroke) return;
  const before = stroke.before;
  stroke = null;
  send(before, { pencil: "draw", line: "line", fill: "fill", erase: "erase" }[tool]);
}

// send asks for the rows that a stroke changed. Strokes go one after another; an
// answer is drawn when no later stroke is on its way.
function send(before, label) {
  const now = copy(), changes = [];
  now.forEach((r, i) => { if (r !== before[i]) changes.push({ op: "replace", path: path(`rows/${now.length - 1 - i}`), value: r }); });
  if (changes.length) post("edit", { label, changes });
}

const path = (end) => `/charts/${s.chart.replaceAll("~", "~0").replaceAll("/", "~1")}/${end}`;

function post(what, body) {
  waiting++;
  const began = performance.now();
  sending = sending.then(async () => {
    let state = null, error = "Vindel does not answer: the last stroke was not kept.";
    try {
      const answer = await fetch(`/pieces/${s.piece}/${what}?chart=${encodeURIComponent(s.chart)}`, { method: "POST", headers: { "Content-Type": "application/json", Accept: "application/json" }, body: JSON.stringify(body || {}) });
      const got = await answer.json();
      if (answer.ok) state = got; else error = got.error;
    } catch { /* the words above say it */ }
    waiting--;
    document.getElementById("refusal").textContent = state ? "" : error;
    if (!state) state = await (await fetch(`/pieces/${s.piece}/state?chart=${encodeURIComponent(s.chart)}`, { headers: { Accept: "application/json" } })).json();
    if (!waiting && !stroke) show(state);
    board.dataset.answered = (performance.now() - began).toFixed(1);
  });
}

function show(state) {
  take(state);
  showYarns();
  draw();
  says(cursor);
  const box = document.getElementById("side-findings");
  box.innerHTML = state.findings;
  window.htmx?.process(box);
  face();
  board.dataset.head = s.head;
}

function face(side) {
  const img = document.getElementById("face");
  side ||= document.querySelector(".face.is-on").dataset.face;
  img.src = `/pieces/${s.piece}/fabric/${side}.svg?w=48&h=48&v=${s.head}`;
}

function says(at) {
  const ch = cells[at.row - 1][at.column - 1], y = s.yarns.find((y) => y.char === ch);
  const p = s.rail[at.row]?.[0];
  document.getElementById("cursor-says").textContent = `row ${at.row}, column ${at.column}` + (s.needles?.[at.column - 1] ? `, needle ${s.needles[at.column - 1]}` : "") + (y ? `: ${y.name}` : "") + (p ? `, counter ${p.counter} after it` : "");
}

// --- rows, columns, keys ----------------------------------------------------

function rowsEdit(label, edit) {
  const rows = copy().map((r) => [...r]);
  edit(rows);
  if (!rows.length || !rows[0].length) return;
  post("edit", { label, changes: [{ op: "replace", path: path("rows"), value: rows.map((r) => r.join("")).reverse() }] });
}

const acts = {
  "undo": () => post("undo"), "redo": () => post("redo"),
  "row+": () => rowsEdit("insert a row", (rows) => rows.splice(cursor.row - 1, 0, [...rows[0]].fill(s.blank))),
  "row-": () => rowsEdit("delete a row", (rows) => rows.length > 1 && rows.splice(cursor.row - 1, 1)),
  "col+": () => rowsEdit("insert a column", (rows) => rows.forEach((r) => r.splice(cursor.column - 1, 0, s.blank))),
  "col-": () => rowsEdit("delete a column", (rows) => rows[0].length > 1 && rows.forEach((r) => r.splice(cursor.column - 1, 1))),
  "bigger": () => { size = Math.min(48, size + 2); draw(); }, "less": () => { size = Math.max(8, size - 2); draw(); },
};

function click(e) {
  const el = e.target.closest("button, .finding");
  if (!el) return;
  if (el.dataset.tool) {
    tool = el.dataset.tool;
    document.querySelectorAll(".tools [data-tool]").forEach((t) => t.classList.toggle("is-on", t === el));
  }
  if (el.dataset.yarn) { yarn = Number(el.dataset.yarn); showYarns(); }
  if (el.dataset.face) {
    document.querySelectorAll(".face").forEach((f) => f.classList.toggle("is-on", f === el));
    face(el.dataset.face);
  }
  if (acts[el.dataset.do]) acts[el.dataset.do]();
  if (el.classList.contains("finding") && el.dataset.row > 0) goTo(Number(el.dataset.row), Number(el.dataset.column));
  if (el.closest(".tools, .sheet-tools")) board.focus({ preventScroll: true });
}

// A fix is an edit like a stroke: its answer is the new state.
function submit(e) {
  const form = e.target.closest("[data-fix]");
  if (!form) return;
  e.preventDefault();
  e.stopImmediatePropagation();
  const body = new URLSearchParams(new FormData(form));
  waiting++;
  sending = sending.then(async () => {
    const answer = await fetch(`/pieces/${s.piece}/fix?chart=${encodeURIComponent(s.chart)}`, { method: "POST", headers: { Accept: "application/json" }, body });
    const got = await answer.json();
    waiting--;
    document.getElementById("refusal").textContent = answer.ok ? "" : got.error;
    if (answer.ok) show(got);
  });
}

function goTo(row, column) {
  cursor = { row: Math.max(1, Math.min(row, cells.length)), column: Math.max(1, Math.min(column || 1, cells[0].length)) };
  const l = layout(), y = l.tops[cursor.row], x = left + (cursor.column - 1) * l.w;
  if (y < board.scrollTop + size) board.scrollTop = y - size * 2;
  if (y > board.scrollTop + board.clientHeight - size * 4) board.scrollTop = y - board.clientHeight + size * 4;
  if (x < board.scrollLeft + left) board.scrollLeft = x - left - l.w;
  if (x > board.scrollLeft + board.clientWidth - l.w * 3) board.scrollLeft = x - board.clientWidth + l.w * 3;
  draw();
  says(cursor);
}

function keys(e) {
  const step = { ArrowUp: [1, 0], ArrowDown: [-1, 0], ArrowRight: [0, 1], ArrowLeft: [0, -1] }[e.key];
  if (step && !e.altKey && !e.ctrlKey) {
    e.preventDefault();
    goTo(cursor.row + step[0], cursor.column + step[1]);
  } else if (e.key === "Home" || e.key === "End") {
    e.preventDefault();
    goTo(cursor.row, e.key === "Home" ? 1 : cells[0].length);
  } else if (e.key === " " || e.key === "Enter") {
    e.preventDefault();
    e.stopPropagation();
    const before = copy();
    if (tool === "fill") fill(cursor); else paint(cursor.row, cursor.column);
    if (e.key === " ") goTo(cursor.row, cursor.column + 1); else draw();
    send(before, "draw");
  }
}
