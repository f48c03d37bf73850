// The chart desk. It holds no rule of knitting: a stroke is painted at once and
// provisionally, sent, and what comes back is drawn.
import { d, W, H, $ } from "./desk/state.js";
import { startBoard, draw, goTo } from "./desk/board.js";
import { onState } from "./desk/server.js";
import { showPalette, showTools, says, face } from "./desk/tools.js";
import { down, move, up } from "./desk/strokes.js";
import { click, submit } from "./desk/commands.js";
import { keys } from "./desk/keys.js";
import { startPanels } from "./desk/panels.js";
import { startSigns } from "./desk/signs.js";

export function startDesk() {
  const desk = $("desk");
  if (!desk) return;
  startSigns(JSON.parse(desk.dataset.signs));
  const board = $("board");
  take(JSON.parse(desk.dataset.state));
  if (d.s.palette.length > 1) d.mark = 2;
  try {
    d.clip = JSON.parse(sessionStorage.getItem("clip"));
  } catch {
    d.clip = null;
  }
  for (const key of ["square", "plainMarks", "letters", "yarnMarks"]) d[key] = localStorage.getItem("desk-" + key) === "yes";
  startBoard();
  startPanels();
  onState(show);
  const canvas = $("cells");
  canvas.addEventListener("pointerdown", down);
  canvas.addEventListener("pointermove", move);
  for (const end of ["pointerup", "pointercancel"]) canvas.addEventListener(end, up);
  board.addEventListener("keydown", keys);
  board.addEventListener("copy", (e) => e.preventDefault());
  desk.addEventListener("click", click);
  $("more").addEventListener("click", click);
  desk.addEventListener("submit", submit, true); // before htmx, which listens at the form
  const at = new URLSearchParams(location.search);
  goTo(Number(at.get("row")) || 1, Number(at.get("column")) || 1);
  showPalette();
  showTools();
  says();
  // On a phone the tools lie in a drawer, which closes when one is taken.
  const drawer = (open) => {
    desk.classList.toggle("is-open", open);
    $("tool-drawer").setAttribute("aria-expanded", open);
  };
  $("tool-drawer").addEventListener("click", () => drawer(!desk.classList.contains("is-open")));
  $("tool-grid").addEventListener("click", () => drawer(false));
  board.focus({ preventScroll: true });
}

function take(state) {
  d.s = state;
  d.cells = state.rows.map((r) => [...r]).reverse();
  d.cursor.row = Math.min(d.cursor.row, H());
  d.cursor.column = Math.min(d.cursor.column, W());
  d.mark = Math.min(d.mark, state.palette.length);
  if (d.selection && (d.selection.x1 > W() || d.selection.y1 > H())) d.selection = null;
  $("chart-name").textContent = state.chart;
  $("sheet-about").textContent =
    `${W()} × ${H()}, seen on the ${state.side} side` + (state.section ? ` · ${state.section}` : " · not placed yet");
  $("bar-sum").replaceChildren(
    ...state.totals.flatMap((t, i) => {
      const b = document.createElement("b");
      b.textContent = t.N;
      return [i ? " · " : "", b, " " + t.Unit];
    }),
  );
  for (const [name, can] of [
    ["undo", state.canUndo],
    ["redo", state.canRedo],
  ])
    document.querySelector(`.tools [data-do=${name}]`).disabled = !can;
}

function show(state) {
  take(state);
  showPalette();
  draw();
  says();
  const list = $("side-findings");
  list.innerHTML = state.findings;
  window.htmx?.process(list);
  face();
  $("board").dataset.head = d.s.head;
  document.dispatchEvent(new Event("changed"));
}
