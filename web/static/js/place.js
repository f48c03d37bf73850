// The bed: areas are dragged along it, widened at their ends, and nudged by arrow keys. The
// page shows where an area would come to lie; the server lays it there.

let held = null,
  panned = null; // a finger beside the areas moves the bed

// middle shows the middle of the bed, where the work lies, on a page that is narrower than the bed.
function middle() {
  const wide = document.querySelector(".bed-wide");
  if (wide) wide.scrollLeft = (wide.scrollWidth - wide.clientWidth) / 2;
}

export function startPlace() {
  middle();
  document.addEventListener("htmx:afterSwap", middle);
  document.addEventListener("pointerdown", down);
  document.addEventListener("pointermove", move);
  document.addEventListener("pointerup", up);
  document.addEventListener("pointercancel", leave);
  document.addEventListener("keydown", nudge);
  // After a nudge the page is new: the area that was in hand is in hand again.
  document.addEventListener("htmx:afterSwap", () => {
    if (!held?.again) return;
    document.querySelector(`.bed-area[data-section="${held.section}"][data-area="${held.area}"]`)?.focus();
    held = null;
  });
}

const unitOf = (bed) => {
  const m = bed.getScreenCTM();
  return Number(bed.dataset.unit) * m.a; // pixels a needle
};

function down(e) {
  const area = e.target.closest(".bed-area"),
    bed = area?.closest("#bed"),
    wide = e.target.closest(".bed-wide");
  if (!bed && wide && e.pointerType === "touch") panned = { wide, id: e.pointerId, x: e.clientX + wide.scrollLeft };
  if (!bed || e.button) return;
  e.preventDefault();
  area.focus({ preventScroll: true });
  area.setPointerCapture(e.pointerId); // a finger that leaves the area still holds it
  held = { area, id: e.pointerId, bed, end: e.target.dataset.end || "", x: e.clientX, by: 0, unit: unitOf(bed) };
}

function move(e) {
  if (panned?.id === e.pointerId) panned.wide.scrollLeft = panned.x - e.clientX;
  if (!held?.bed || e.pointerId !== held.id) return;
  held.by = Math.round((e.clientX - held.x) / held.unit);
  const unit = Number(held.bed.dataset.unit),
    edge = held.area.querySelector(".area-edge");
  held.x0 ??= Number(edge.getAttribute("x"));
  held.w0 ??= Number(edge.getAttribute("width"));
  const by = held.by * unit;
  edge.setAttribute("x", held.end === "to" ? held.x0 : held.x0 + by);
  edge.setAttribute(
    "width",
    Math.max(unit, held.end === "from" ? held.w0 - by : held.end === "to" ? held.w0 + by : held.w0),
  );
}

// leave lets go of what was taken by mistake: it lies where it lay.
function leave() {
  panned = null;
  const edge = held?.area?.querySelector(".area-edge");
  if (edge && held.x0 !== undefined) {
    edge.setAttribute("x", held.x0);
    edge.setAttribute("width", held.w0);
  }
  if (held?.bed) held = null;
}

function up(e) {
  panned = null;
  const h = held;
  if (!h?.bed || e.pointerId !== h.id) return;
  held = null;
  if (h.by) ask(h.area, h.end ? { do: "stretch", end: h.end, by: h.by } : { do: "move", by: h.by });
}

function nudge(e) {
  const area = document.activeElement?.closest?.(".bed-area");
  const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
  if (!area || e.altKey || e.ctrlKey) return;
  if (by) {
    e.preventDefault();
    ask(area, { do: e.shiftKey ? "phase" : "move", by });
  } else if (e.key === "Home") {
    e.preventDefault();
    ask(area, { do: "centre" });
  } else if (e.key === "Enter") {
    document.getElementById("section-" + area.dataset.section)?.scrollIntoView({ block: "start" });
  }
}

function ask(area, values) {
  const { section, area: k } = area.dataset,
    piece = area.closest("#bed").dataset.piece;
  held = { again: true, section, area: k };
  window.htmx.ajax("POST", `/pieces/${piece}/arrange`, {
    target: "#main",
    select: "#main",
    swap: "outerHTML",
    values: { section, area: k, ...values },
  });
}
