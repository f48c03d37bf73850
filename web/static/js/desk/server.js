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

const pause = (ms) => new Promise((r) => setTimeout(r, ms));
const silent = "Vindel does not answer. What you drew since is not kept yet";

// reach asks until there is an answer: while there is none it says so, and what waits. Without
// again it asks once, since what is asked must not be done twice.
async function reach(ask, again) {
  for (let wait = 400; ; wait = Math.min(wait * 1.6, 4000)) {
    try {
      const answer = await ask();
      const got = whole(await answer.json());
      if (answer.status === 507 && again) {
        refuse(`${got.error} What you drew since waits here; it is tried again.`);
        await pause(Math.max(wait, 2000));
        continue;
      }
      document.body.classList.remove("is-cut-off");
      return { ok: answer.ok, got };
    } catch {
      document.body.classList.add("is-cut-off");
      if (!again) return null;
      const n = d.waiting;
      refuse(`${silent} (${n} ${n === 1 ? "change waits" : "changes wait"}); it is tried again.`);
      await pause(wait);
    }
  }
}

// What is kept of the drawing as it was last answered: an answer says what has changed since, in lists under "~".
let last = null;
const has = () => ({ "Vindel-Has": String((last ??= d.s).rev) });
function whole(got) {
  if (got.since === undefined) return got.rev ? (last = got) : got;
  const now = { ...last };
  for (const [name, value] of Object.entries(got)) {
    if (value?.["~"]) now[name] = Object.assign(Array.isArray(last[name]) ? [...last[name]] : { ...last[name] }, value["~"]);
    else if (name !== "since") now[name] = value;
  }
  return (last = now);
}

const stateNow = () =>
  fetch(`/pieces/${d.s.piece}/state?chart=${encodeURIComponent(d.s.chart)}`, {
    headers: { Accept: "application/json", ...has() },
  });

// settled asks for the drawing as it is kept until it is worked out: a large one takes a while.
async function settled() {
  for (;;) {
    const { got } = await reach(stateNow, true);
    refuse(got.working || "");
    if (!got.working) return got;
    await pause(600);
  }
}

// queue does one thing after another; an answer is shown when no later stroke is on its way.
// What a stroke paints is the same however often it is asked, so it is asked until it is
// answered; anything else is asked once, and the drawing then shown is the one that is kept.
function queue(ask, done, again) {
  d.waiting++;
  const began = performance.now();
  sending = sending.then(async () => {
    const first = await reach(ask, again);
    d.waiting--;
    let error = "";
    if (!first) error = "Vindel did not answer: that was not done, or is not known to be. This is the drawing as it is kept.";
    else if (!first.ok) error = first.got.error;
    refuse(error);
    const state = first?.ok && !first.got.working ? first.got : await settled();
    if (state.rev) madeOn(state.rev);
    if (error) refuse(error);
    if (!d.waiting && !d.stroke) shown(state);
    if (first?.ok) done?.(state);
    $("board").dataset.answered = (performance.now() - began).toFixed(1);
  });
  return sending;
}

// Leaving with changes that are not answered asks first.
addEventListener("beforeunload", (e) => {
  if (d.waiting && document.body.classList.contains("is-cut-off")) e.preventDefault();
});

// What is asked says which state it was made on, so that another tab is not written over.
let rev = 0;
function madeOn(now) {
  rev = now;
  $("main").setAttribute("hx-headers", JSON.stringify({ "Vindel-Rev": String(now) })); // for the forms beside the board
}
const heads = () => ({ Accept: "application/json", "Vindel-Rev": String(rev || d.s.rev), ...has() });
const url = (what) => `/pieces/${d.s.piece}/${what}?chart=${encodeURIComponent(d.s.chart)}`;
const small = 60000; // bytes that a browser still sends when the tab is closed
export const post = (what, body, done, again) => {
  const text = JSON.stringify(body || {});
  return queue(
    () =>
      fetch(url(what), {
        method: "POST",
        headers: { "Content-Type": "application/json", ...heads() },
        body: text,
        keepalive: text.length < small,
      }),
    done,
    again,
  );
};
export const postForm = (what, form, done) =>
  queue(() => fetch(url(what), { method: "POST", headers: heads(), body: form }), done);

// send asks for the rows that a stroke changed.
export function send(before, label) {
  const now = copyCells(),
    changes = [];
  now.forEach((r, i) => {
    if (r !== before[i]) changes.push({ op: "replace", path: path(`rows/${now.length - 1 - i}`), value: r });
  });
  if (changes.length) post("edit", { label, changes }, null, true);
}

export const redraw = (label, edit) => post("redraw", { chart: d.s.chart, label, edit });

// span is the selection as an edit names it; none is the whole drawing.
export const span = () =>
  d.selection ? { columns: [d.selection.x0, d.selection.x1], rows: [d.selection.y0, d.selection.y1] } : {};
