// What is shown round the board: the palette, the tool in hand, the face, and the line
// that says what stands under the cursor.
import { d, add, $ } from "./state.js";
import { draw } from "./board.js";
import { signOn } from "./signs.js";

export function face(side) {
  side ||= document.querySelector(".face.is-on").dataset.face;
  $("face").src = `/pieces/${d.s.piece}/fabric/${side}.svg?w=48&h=48&v=${d.s.head}`;
}

export function showPalette() {
  $("yarns").replaceChildren(
    ...d.s.palette.map((m, i) => {
      const b = document.createElement("button");
      b.className = "yarn-pick" + (i + 1 === d.mark ? " is-on" : "");
      b.setAttribute("role", "radio");
      b.setAttribute("aria-checked", i + 1 === d.mark);
      b.setAttribute("aria-label", m.name);
      b.title = `${m.name} (${i + 1})`;
      b.dataset.key = String(i + 1);
      b.dataset.mark = i + 1;
      const svg = document.createElementNS("http://www.w3.org/2000/svg", "svg");
      svg.setAttribute("viewBox", "0 0 30 30");
      add(svg, "rect", { x: 1, y: 1, width: 28, height: 28, rx: 6, fill: m.colour });
      if (m.stitch) signOn(svg, m);
      const letter = document.createElement("b");
      letter.textContent = d.s.palette.some((o) => o.stitch) ? i + 1 : m.label;
      b.append(svg, letter);
      return b;
    }),
  );
}

export function showTools() {
  const inHand = document.querySelector(`.tools [data-tool="${d.tool}"] svg`);
  if (inHand) $("tool-in-hand").replaceChildren(inHand.cloneNode(true));
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

export function says() {
  const at = d.cursor,
    ch = d.cells[at.row - 1][at.column - 1],
    y = d.s.palette.find((m) => m.char === ch),
    p = d.s.rail[at.row]?.[0];
  const m = markHere();
  $("cursor-says").textContent =
    `row ${at.row}, column ${at.column}` +
    (d.s.needles?.[at.column - 1] ? `, needle ${d.s.needles[at.column - 1]}` : "") +
    (y ? `: ${y.name}` : "") +
    (p ? `, begins at ${p.reading} on the counter` : "") +
    (p?.text ? `; before it ${p.text}` : "") +
    balance(at.row);
  $("cursor-says").title = $("cursor-says").textContent;
  const mend = $("mend");
  mend.hidden = !m;
  if (m) mend.firstChild.textContent = m.fix + " ";
  showTyped();
}

// showTyped writes the row under the cursor as runs, unless it is being typed.
export function showTyped() {
  const input = $("typed");
  if (document.activeElement === input && input.dataset.row === String(d.cursor.row)) return;
  input.dataset.row = d.cursor.row;
  $("typed-row").textContent = d.cursor.row;
  input.value = d.s.typed[d.cursor.row - 1];
  $("typed-count").textContent = "";
}

// balance says, in lace, by how many stitches a row changes the count.
function balance(row) {
  if (!d.s.balance) return "";
  const n = d.s.balance[row - 1];
  return n === 0
    ? "; uses as many stitches as it makes"
    : `; makes ${Math.abs(n)} ${n < 0 ? "more" : "fewer"} than it uses`;
}

export const markHere = () =>
  d.s.marks.find((m) => m.canFix && m.row === d.cursor.row && m.columns.includes(d.cursor.column));

export function choose(tool) {
  if (tool === d.tool && ["rectangle", "ellipse"].includes(tool)) d.filled = !d.filled;
  if (tool !== "select") d.selection = null;
  d.tool = tool;
  d.stroke = null;
  showTools();
  draw();
}
