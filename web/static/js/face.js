// Her own controls on a drawn carriage: they are dragged, or moved by arrow keys; the page shows
// where one would come to stand, and the server writes it down.
let held = null;

export function startFace() {
  document.addEventListener("pointerdown", down);
  document.addEventListener("pointermove", move);
  document.addEventListener("pointerup", up);
  document.addEventListener("pointercancel", () => (held = null));
  document.addEventListener("keydown", nudge);
}

const placeOf = (g) => g.getAttribute("transform").match(/-?[\d.]+/g).map(Number);
// within keeps a place on the carriage: the margins are those of the drawing.
const within = (x, y) => [Math.max(60, Math.min(580, x)), Math.max(40, Math.min(130, y))];

function down(e) {
  const g = e.target.closest?.(".carriage.can-move .control");
  if (!g || e.button) return;
  e.preventDefault();
  g.focus({ preventScroll: true });
  g.setPointerCapture(e.pointerId);
  held = { g, id: e.pointerId, x: e.clientX, y: e.clientY, from: placeOf(g), scale: g.ownerSVGElement.getScreenCTM().a, moved: false };
}

function move(e) {
  if (held?.id !== e.pointerId) return;
  const [x, y] = within(held.from[0] + (e.clientX - held.x) / held.scale, held.from[1] + (e.clientY - held.y) / held.scale);
  held.moved ||= Math.hypot(e.clientX - held.x, e.clientY - held.y) > 3;
  held.g.setAttribute("transform", `translate(${x} ${y})`);
}

function up(e) {
  if (held?.id !== e.pointerId) return;
  const { g, moved } = held;
  held = null;
  if (moved) ask(g);
  else document.getElementById(`control-${g.dataset.control}-name`)?.scrollIntoView({ block: "center" });
}

function nudge(e) {
  const g = document.activeElement?.closest?.(".carriage.can-move .control"),
    by = { ArrowLeft: [-12, 0], ArrowRight: [12, 0], ArrowUp: [0, -9], ArrowDown: [0, 9] }[e.key];
  if (!g || !by || e.altKey || e.ctrlKey) return;
  e.preventDefault();
  const [x, y] = placeOf(g);
  g.setAttribute("transform", `translate(${within(x + by[0], y + by[1]).join(" ")})`);
  ask(g);
}

function ask(g) {
  const [x, y] = placeOf(g);
  window.htmx.ajax("POST", location.pathname, {
    target: "#main",
    select: "#main",
    swap: "outerHTML",
    values: { do: "move", control: g.dataset.control, x: ((x - 60) / 520).toFixed(3), y: ((y - 40) / 90).toFixed(3) },
  });
}
