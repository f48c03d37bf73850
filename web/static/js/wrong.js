// Something is wrong: dragging over the fabric fills in the rows and needles of the form.

export function startWrong() {
  let from = null;
  document.addEventListener("pointerdown", (e) => {
    const svg = e.target.closest(".made.is-marked");
    if (!svg || e.button) return;
    svg.setPointerCapture(e.pointerId);
    from = at(svg, e);
    mark(svg, from, from);
  });
  document.addEventListener("pointermove", (e) => {
    const svg = from && e.target.closest(".made.is-marked");
    if (svg) mark(svg, from, at(svg, e));
  });
  const end = () => (from = null);
  document.addEventListener("pointerup", end);
  document.addEventListener("pointercancel", end);
  document.addEventListener("input", (e) => {
    if (e.target.closest("#wrong-form .wrong-where")) drawn();
  });
}

const wide = 4, // of a stitch in the picture
  tall = 3;

// at is the wale (from the left of the picture) and the row under a pointer.
function at(svg, e) {
  const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(svg.getScreenCTM().inverse()),
    d = svg.dataset,
    rows = d.high - d.low + 1,
    clamp = (v, most) => Math.max(0, Math.min(most - 1, Math.floor(v)));
  return { x: clamp(p.x / wide, d.wales), y: clamp((tall * (rows + 0.6) - p.y) / tall, rows) };
}

// mark writes a stretch into the form, and draws its box.
function mark(svg, a, b) {
  const d = svg.dataset,
    f = document.getElementById("wrong-form").elements;
  let l = Math.min(a.x, b.x),
    r = Math.max(a.x, b.x);
  if ("away" in d) [l, r] = [d.wales - 1 - r, d.wales - 1 - l];
  f.left.value = label(Number(d.needle) + l);
  f.right.value = label(Number(d.needle) + r);
  f.first.value = Number(d.low) + Math.min(a.y, b.y);
  f.last.value = Number(d.low) + Math.max(a.y, b.y);
  drawn();
}

const label = (n) => (n < 0 ? `L${-n}` : `R${n + 1}`);
const needle = (s) => {
  const m = /^\s*([lr])(\d+)\s*$/i.exec(s);
  return m && (m[1].toLowerCase() === "l" ? -m[2] : m[2] - 1);
};

// drawn draws the box that the form says.
function drawn() {
  const box = document.getElementById("mark-box"),
    d = box.closest("svg").dataset,
    f = document.getElementById("wrong-form").elements;
  let l = needle(f.left.value) ?? Number(d.needle),
    r = needle(f.right.value) ?? Number(d.needle) + Number(d.wales) - 1;
  const a = Number(f.first.value) || Number(d.high),
    b = Number(f.last.value) || Number(d.high),
    rows = d.high - d.low + 1;
  l -= d.needle;
  r -= d.needle;
  if ("away" in d) [l, r] = [d.wales - 1 - r, d.wales - 1 - l];
  box.setAttribute("x", wide * Math.min(l, r));
  box.setAttribute("width", wide * (Math.abs(r - l) + 1));
  box.setAttribute("y", tall * (rows + 0.6) - tall * (Math.max(a, b) - d.low + 1));
  box.setAttribute("height", tall * (Math.abs(b - a) + 1));
}
