// The outline: its corners are dragged, or moved by arrow keys. The page shows where a corner would come to
// lie; the server works out the stitches and rows.

let held = null,
  again = null;

export function startShape() {
  document.addEventListener("pointerdown", down);
  document.addEventListener("pointermove", move);
  document.addEventListener("pointerup", up);
  document.addEventListener("pointercancel", () => (held = null));
  document.addEventListener("keydown", nudge);
  document.addEventListener("htmx:afterSwap", () => {
    sizeDots();
    if (!again) return;
    document.querySelector(`.corner[data-side="${again.side}"][data-corner="${again.corner}"]`)?.focus({ preventScroll: true });
    again = null;
  });
  window.addEventListener("resize", sizeDots);
  sizeDots();
}

// The drawing is in millimetres, the dots are for fingers: they keep their size on the screen.
function sizeDots() {
  const svg = document.getElementById("shape-drawing"),
    m = svg?.getScreenCTM();
  if (!m) return;
  for (const c of svg.querySelectorAll(".corner-dot")) c.setAttribute("r", 7 / m.a);
  for (const c of svg.querySelectorAll(".corner-touch")) c.setAttribute("r", 22 / m.a);
}

function down(e) {
  const corner = e.target.closest?.(".corner"),
    svg = corner?.closest("#shape-drawing");
  if (!svg || e.button) return;
  e.preventDefault();
  corner.focus({ preventScroll: true });
  corner.setPointerCapture(e.pointerId);
  held = { corner, svg, x: e.clientX, y: e.clientY, scale: svg.getScreenCTM().a, dx: 0, dy: 0 };
}

function move(e) {
  if (!held) return;
  held.dx = Math.round((e.clientX - held.x) / held.scale);
  held.dy = held.corner.dataset.corner === "1" ? 0 : Math.round((e.clientY - held.y) / held.scale);
  show(held.svg, held.corner, held.dx, held.dy);
  if (held.svg.dataset.alike) {
    const other = held.svg.querySelector(
      `.corner[data-side="${held.corner.dataset.side === "left" ? "right" : "left"}"][data-corner="${held.corner.dataset.corner}"]`,
    );
    if (other) show(held.svg, other, -held.dx, held.dy);
  }
}

function show(svg, corner, dx, dy) {
  corner.base ??= corner.getAttribute("transform").match(/-?[\d.]+/g).map(Number);
  const [x, y] = [corner.base[0] + dx, corner.base[1] + dy];
  corner.setAttribute("transform", `translate(${x} ${y})`);
  const line = svg.querySelector(`.shape-asked[data-side="${corner.dataset.side}"]`),
    points = line.getAttribute("points").trim().split(/\s+/);
  points[Number(corner.dataset.corner) - 1] = `${x},${y}`;
  line.setAttribute("points", points.join(" "));
}

function up() {
  const h = held;
  held = null;
  if (h && (h.dx || h.dy)) ask(h.corner, h.dx, -h.dy);
}

function nudge(e) {
  const corner = document.activeElement?.closest?.(".corner"),
    by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
  if (!corner || !by || e.altKey || e.ctrlKey) return;
  e.preventDefault();
  const step = e.shiftKey ? 10 : 1;
  ask(corner, by[0] * step, by[1] * step);
}

function ask(corner, dx, dy) {
  const { side, corner: no, x, y } = corner.dataset,
    svg = corner.closest("#shape-drawing");
  again = { side, corner: no };
  window.htmx.ajax("POST", `/pieces/${svg.dataset.piece}/shape`, {
    target: "#main",
    select: "#main",
    swap: "outerHTML",
    values: { do: "corner", side, corner: no, x: Number(x) + dx, y: Number(y) + dy, alike: svg.dataset.alike },
  });
}
