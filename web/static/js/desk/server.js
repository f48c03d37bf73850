// What the desk asks of the server: one thing after another, each answered with the chart
// as it stands then.
import { d, copyCells, path, $ } from "./state.js";

let sending = Promise.resolve(),
  shown = () => {};

// onState says what shows a new state.
export const onState = (show) => {
  shown = show;
};
export const refuse = (words) => {
  $("refusal").textContent = words;
};

// queue does one thing after another; an answer is shown when no later stroke is on its way.
function queue(ask, done) {
  d.waiting++;
  const began = performance.now();
  sending = sending.then(async () => {
    let state = null,
      error = "Vindel does not answer: the last stroke was not kept.";
    try {
      const answer = await ask();
      const got = await answer.json();
      if (answer.ok) state = got;
      else error = got.error;
    } catch {
      /* the words above say it */
    }
    d.waiting--;
    refuse(state ? "" : error);
    const kept = Boolean(state);
    if (!state)
      state = await (
        await fetch(`/pieces/${d.s.piece}/state?chart=${encodeURIComponent(d.s.chart)}`, {
          headers: { Accept: "application/json" },
        })
      ).json();
    if (!d.waiting && !d.stroke) shown(state);
    if (kept) done?.(state);
    $("board").dataset.answered = (performance.now() - began).toFixed(1);
  });
  return sending;
}

const url = (what) => `/pieces/${d.s.piece}/${what}?chart=${encodeURIComponent(d.s.chart)}`;
export const post = (what, body, done) =>
  queue(
    () =>
      fetch(url(what), {
        method: "POST",
        headers: { "Content-Type": "application/json", Accept: "application/json" },
        body: JSON.stringify(body || {}),
      }),
    done,
  );
export const postForm = (what, form, done) =>
  queue(() => fetch(url(what), { method: "POST", headers: { Accept: "application/json" }, body: form }), done);

// send asks for the rows that a stroke changed.
export function send(before, label) {
  const now = copyCells(),
    changes = [];
  now.forEach((r, i) => {
    if (r !== before[i]) changes.push({ op: "replace", path: path(`rows/${now.length - 1 - i}`), value: r });
  });
  if (changes.length) post("edit", { label, changes });
}

export const redraw = (label, edit) => post("redraw", { chart: d.s.chart, label, edit });

// span is the selection as an edit names it; none is the whole drawing.
export const span = () =>
  d.selection ? { columns: [d.selection.x0, d.selection.x1], rows: [d.selection.y0, d.selection.y1] } : {};
