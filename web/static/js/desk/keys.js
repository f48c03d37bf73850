// The keys on the board: the cursor, selections, painting by Space and Enter.
import { d, W, H, $ } from "./state.js";
import { shape, isShape } from "./paint.js";
import { draw, goTo } from "./board.js";
import { showTools, says, choose } from "./tools.js";
import { corners, press } from "./strokes.js";
import { acts, shift } from "./commands.js";

export function keys(e) {
  const ctrl = e.ctrlKey || e.metaKey;
  const step = { ArrowUp: [1, 0], ArrowDown: [-1, 0], ArrowRight: [0, 1], ArrowLeft: [0, -1] }[e.key];
  const done = () => {
    e.preventDefault();
    e.stopPropagation();
  };
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
      goTo(d.cursor.row + step[0], round(d.cursor.column + step[1]));
      if (d.stroke?.keyed) {
        d.cells = d.stroke.before.map((r) => [...r]);
        shape(d.stroke.from, d.cursor);
        draw(true);
      }
    }
    return says();
  }
  const act = ctrl && { c: "copy", x: "cut", v: "paste", a: "all" }[e.key.toLowerCase()];
  if (act) {
    done();
    acts[act]();
    return;
  }
  switch (e.key) {
    case "Home":
    case "End":
      done();
      goTo(d.cursor.row, e.key === "Home" ? 1 : W());
      return says();
    case "PageUp":
    case "PageDown":
      done();
      goTo(d.cursor.row + (e.key === "PageUp" ? 10 : -10), d.cursor.column);
      return says();
    case "Backspace":
      if (d.selection) {
        done();
        acts.clear();
      }
      return;
    case "Escape":
      if (d.stroke?.keyed) {
        d.cells = d.stroke.before.map((r) => [...r]);
        d.stroke = null;
      }
      d.selection = d.anchor = null;
      if (d.tool === "stamp") choose("pencil");
      draw();
      return;
    case " ":
    case "Enter":
      done();
      press(false);
      if (e.key === " " && !isShape() && !["stamp", "fill", "select"].includes(d.tool))
        goTo(d.cursor.row, round(d.cursor.column + 1));
      else draw();
      says();
  }
}

// round is the column beside the edge: the first of the next repeat, or the last of the one before.
const round = (column) => (column > W() ? 1 : column < 1 ? W() : column);

// byRepeat moves by a repeat: sideways over the needles that show the same column, which
// the line below the board names; upward to the first and last row.
function byRepeat([dr, dc]) {
  if (dr) {
    goTo(dr > 0 ? H() : 1, d.cursor.column);
    return says();
  }
  const list = d.s.repeats?.[d.cursor.column - 1] || [];
  d.nth = ((d.nth ?? 0) + dc + list.length) % Math.max(1, list.length);
  says();
  if (list.length) $("cursor-says").textContent += `; repeat ${d.nth + 1} of ${list.length}: needle ${list[d.nth]}`;
}
