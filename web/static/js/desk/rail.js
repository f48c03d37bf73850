// The row rail: on each row's own line, per pass, the counter before it, the way, a thread
// for each feeder, and what changes before it.
import { d, H, add, $ } from "./state.js";

// railWidth is what the rail takes: with its words; folded once without them, twice without the
// threads, three times not at all. On a narrow board the words give way at once.
export const railWidth = (vw, fold) =>
  [vw < 500 ? 146 : Math.min(460, Math.max(300, vw * 0.42)), 98 + 24 * d.s.feeders, 70, 0][fold];

const yarnColour = (id) => d.s.threads[id] || "none";

// wrapped is a text in as many lines as there is room for, the last cut off if it must be.
function wrapped(text, most, lines) {
  const out = [];
  for (const word of (text || "").split(" ")) {
    const last = out.length - 1;
    if (last >= 0 && (out[last] + " " + word).length <= most) out[last] += " " + word;
    else if (word) out.push(word);
  }
  if (out.length <= lines) return out;
  const rest = out.slice(lines - 1).join(" ");
  return [...out.slice(0, lines - 1), rest.slice(0, most - 1) + "…"];
}

export function drawRail(l, x, { sy, vw, vh, first, last }) {
  const rail = $("rail"),
    size = d.size,
    small = size < 15 ? " is-small" : "";
  rail.replaceChildren();
  rail.setAttribute("width", vw);
  rail.setAttribute("height", vh);
  rail.style.marginTop = -vh + "px";
  if (d.repeat || d.rail === 3) return;
  const thin = d.rail === 2;
  const g = add(rail, "g", { transform: `translate(0 ${-sy})`, class: "rail-all" + small });
  const threads = x + 84 + 24 * d.s.feeders;
  const empty = (f, y, size) => thin || add(g, "path", { class: "rail-empty", d: `M${x + 84 + 24 * f} ${y}v${size}` });
  // Characters that fit; the line below the board says all.
  const most = d.rail ? 0 : Math.floor((vw - threads - 10) / (small ? 6 : 6.9));
  const row = (p, y, size, quiet) => {
    const mid = y + size / 2,
      text = (t) => {
        if (most < 10) return;
        const lines = wrapped(t, most, Math.max(1, Math.floor(size / 17)));
        lines.forEach((line, i) => {
          const said = add(g, "text", { class: "rail-text", x: threads + 2, y: mid + 5 + 17 * (i - (lines.length - 1) / 2) }, line);
          if (line.endsWith("…")) add(said, "title", {}, t);
        });
      };
    if (p.lace) {
      if (size > 7) {
        add(g, "path", {
          class: "rail-arrow",
          d: `M${x + 46} ${mid - 3.5}h16m-4-3.500l4 3.500M${x + 62} ${mid + 3.5}h-16m4 3.500l-4-3.500`,
        });
        add(g, "text", { class: "rail-lace", x: x + 34, y: mid + 5 }, `${p.lace}×`);
        text(p.text);
      }
      p.feeders.forEach((_, f) => empty(f, y, size));
      return;
    }
    if (size >= 9) {
      if (!quiet) add(g, "text", { class: "rail-counter", x: x + 34, y: mid + 5 }, p.reading);
      add(g, "path", {
        class: "rail-arrow",
        d: p.dir === "right" ? `M${x + 46} ${mid}h16m-5-4l5 4-5 4` : `M${x + 62} ${mid}h-16m5-4l-5 4 5 4`,
      });
      text(p.text);
    }
    if (thin) return;
    p.feeders.forEach((id, f) => {
      if (!id) return empty(f, y, size);
      const at = x + 84 + 24 * f;
      add(g, "path", { class: "rail-edge", "stroke-width": 9.5, d: `M${at} ${y}v${size}` });
      add(g, "path", { stroke: yarnColour(id), "stroke-width": 8, d: `M${at} ${y - 0.5}v${size + 1}` });
    });
    if (size >= 9)
      p.feeders.forEach((id, f) => {
        if (!id || !(d.letters || d.yarnMarks) || !(p.knots[f] || p === lowest)) return;
        add(g, "text", { class: "rail-letter", x: x + 84 + 24 * f + 8, y: mid + 4 }, id);
      });
    if (size >= 9 && !thin)
      p.knots.forEach((k, f) => {
        if (k) add(g, "circle", { class: "rail-knot", cx: x + 84 + 24 * f, cy: y + size - 2, r: Math.min(5.5, size * 0.45) });
      });
  };
  // A row's passes share its height, the first at the bottom.
  const lowest = (d.s.rail[1] || [])[0];
  const lines = (passes, top, high) => {
    const each = high / Math.max(1, passes.length);
    // Where they stand close every other says its counter.
    passes.forEach((p, i) => row(p, top + each * (passes.length - 1 - i), each, each < 13 && i % 2 > 0));
  };
  for (let r = first; r >= last; r--)
    lines(d.s.rail[r] || [], l.tops[r], size * l.band[r - 1]);
  if (l.bottom < sy + vh) lines(d.s.below, l.bottom, size * d.s.below.length);
  const words = l.bottom + 18 + d.s.below.length * size;
  if (!Object.keys(d.s.rail).length || words > sy + vh + 20) return;
  add(g, "text", { class: "rail-word", x: x + 4, y: words }, "counter");
  for (let f = 0; f < d.s.feeders && !thin; f++) add(g, "text", { class: "rail-word", x: x + 81 + 24 * f, y: words }, f + 1);
  if (most >= 10) add(g, "text", { class: "rail-word", x: threads + 2, y: words }, "what changes before the row");
}
