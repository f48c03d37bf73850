// Beside the machine: keep the screen awake while a pass is shown, fit what hands must do on
// it, tick what precedes the first pass, count a press once, and say when the server cannot
// be reached, so that nobody knits on a press that was not written down.
import { meant, onButton } from "./keys.js";
import { heard } from "./speak.js";
import { listen } from "./stream.js";

const $ = (id) => document.getElementById(id);
const apart = 500; // milliseconds between two presses that are two
let pressed = -Infinity;

async function awake() {
  if (!$("knit") || document.visibilityState !== "visible" || !navigator.wakeLock) return;
  try {
    await navigator.wakeLock.request("screen");
  } catch {
    /* the battery or the browser says no: the page works all the same */
  }
}

export function startKnit() {
  if (!$("knit")) return;
  awake();
  document.addEventListener("visibilitychange", awake);
  const say = (words) => {
    $("refusal").textContent = words;
  };
  document.addEventListener("htmx:sendError", () =>
    say("Vindel does not answer: this press was not written down. Start it again; your place is safe."),
  );
  document.addEventListener("htmx:beforeSwap", (e) => {
    if (e.detail.xhr.status !== 409) return; // the answer says that the page was behind, and where she is
    e.detail.shouldSwap = true;
    e.detail.isError = false;
  });
  document.addEventListener("htmx:responseError", (e) => {
    const words = new DOMParser().parseFromString(e.detail.xhr.responseText, "text/html").querySelector(".message-words");
    say(words?.textContent || "This press was not written down. Load the page again to see where you are.");
  });
  document.addEventListener("htmx:afterSwap", (e) => {
    if (e.detail.target.id === "knit-found") $("go-there")?.focus();
    else shown();
  });
  document.addEventListener("htmx:beforeRequest", once);
  document.addEventListener("htmx:beforeSend", (e) => late(e, say));
  document.addEventListener("keydown", first, true);
  document.addEventListener("click", asked);
  document.addEventListener("htmx:afterSettle", fit);
  new ResizeObserver(fit).observe($("refusal")); // words over the page take their room from it
  addEventListener("resize", fit);
  document.fonts?.ready.then(fit);
  drag();
  shown();
  inStep();
}

// late says that a press has no answer after two seconds: nobody knits on one that waits for a line.
function late(e, say) {
  const { elt, requestConfig, xhr } = e.detail;
  if (requestConfig?.verb === "get" || !elt.closest?.("#knit")) return;
  const words = "No answer yet: nobody knows whether this press is written down. Wait for it, or close other pages of Vindel in this browser.";
  const wait = setTimeout(() => say(words), 2000);
  xhr.addEventListener("loadend", () => {
    clearTimeout(wait);
    if ($("refusal").textContent === words) say("");
  });
}

// inStep keeps this page where the piece is: another device may go on, or a machine on a wire. A page that is neither
// seen nor heard does not follow, and looks again when it is in front.
function inStep() {
  let leave = null;
  let asked = "";
  const ask = () => {
    if (!$("knit") || asked === "" || asked === $("knit").dataset.place) return;
    if (document.querySelector(".htmx-request")) return setTimeout(ask, 60); // its answer may say it
    const typed = document.activeElement?.matches?.("input, textarea") && document.activeElement.value;
    if (typed && !$("knit").querySelector(".knit-wrong")) return setTimeout(ask, 1000); // what is being typed is not taken away
    htmx.ajax("GET", `/pieces/${$("knit").dataset.piece}/knit`, { target: "#knit", swap: "outerHTML settle:0ms" });
  };
  const rest = () => {
    leave?.();
    leave = null;
  };
  const look = () => {
    if (document.hidden && !heard()) rest();
    if (document.hidden) return;
    leave ??= listen($("knit").dataset.piece, (mark) => {
      asked = mark;
      ask();
    });
  };
  look();
  document.addEventListener("visibilitychange", look);
  addEventListener("pagehide", rest);
  addEventListener("pageshow", look);
}

function shown() {
  ticks();
  fit();
}

// once lets a press of the same key or finger within half a second count once. Several passes
// at a time are meant, and not held back.
function once(e) {
  if (e.detail.elt.closest?.(".knit-knitted, .knit-upto") && unticked().length) {
    unticked()[0].click();
    return e.preventDefault();
  }
  const form = e.detail.elt.closest?.(".knit-knitted, .knit-press .knit-resume");
  if (!form) return;
  const now = performance.now();
  if (now - pressed < apart) e.preventDefault();
  else pressed = now;
}

// first is what a key does before it presses a button: a held key does nothing more; what is
// out of sight is scrolled to; what precedes the first pass, or that of a second part, is ticked.
function first(e) {
  if (!$("knit") || e.target.closest("input, textarea, select, dialog") || document.querySelector("dialog[open]")) return;
  const key = meant(e);
  if (e.repeat && [" ", "Backspace", "Enter", "u"].includes(key)) return stop(e);
  if (e.shiftKey && (e.key === "ArrowLeft" || e.key === "ArrowRight")) {
    move(e.key === "ArrowLeft" ? -10 : 10);
    return stop(e);
  }
  if (key !== " " || $("ask-find")?.hidden === false) return;
  if (onButton(e) && e.key === " ") return; // it presses that button
  if (performance.now() - pressed < apart) return stop(e);
  const next = unticked()[0]; // it is in sight
  if (next) next.click();
  else if ($("band-more")?.hidden === false) $("band").scrollBy({ top: $("band").clientHeight * 0.8 });
  else return;
  pressed = performance.now();
  stop(e);
}

function stop(e) {
  e.preventDefault();
  e.stopImmediatePropagation();
}

// asked opens and closes what a button asks for beside the page, and ticks.
function asked(e) {
  const tick = e.target.closest(".tick");
  if (tick) {
    tick.setAttribute("aria-pressed", tick.getAttribute("aria-pressed") !== "true");
    keep();
    fit();
    return;
  }
  const ask = e.target.closest("[data-ask]")?.dataset.ask;
  if (ask === undefined) return;
  for (const name of ["back", "find"]) $(`ask-${name}`).hidden = name !== ask || !$(`ask-${name}`).hidden && !e.target.closest(".quiet-row");
  if (ask === "find" && !$("ask-find").hidden && !e.target.closest(".quiet-row")) $("ask-find").querySelector(`input[name=${e.target.closest("[data-to]")?.dataset.to ?? "to"}]`).focus();
  fit();
}

// --- what precedes the first pass of a piece or of its second part ----------------------

const all = () => [...document.querySelectorAll(".tick")];
const unticked = () => all().filter((t) => t.getAttribute("aria-pressed") !== "true");
const name = () => `ticks:${$("knit").dataset.piece}:${$("knit").dataset.done}:${all().length}`;

function keep() {
  try {
    sessionStorage.setItem(name(), all().map((t) => +(t.getAttribute("aria-pressed") === "true")).join(""));
  } catch {
    /* they last as long as the page */
  }
  next();
}

function ticks() {
  if (!all().length) return;
  let had = "";
  try {
    had = sessionStorage.getItem(name()) || "";
  } catch {
    /* none were kept */
  }
  all().forEach((t, i) => t.setAttribute("aria-pressed", had[i] === "1"));
  next();
}

// next marks the step that is next, and names the large button by it.
function next() {
  const left = unticked();
  all().forEach((t) => t.classList.toggle("is-next", t === left[0]));
  left[0]?.scrollIntoView({ block: "nearest" });
  const button = document.querySelector(".knit-knitted button");
  if (!button) return;
  button.dataset.done ??= button.firstChild.textContent;
  button.firstChild.textContent = left.length ? $("knit").dataset.words.replace("0", left.length) + " " : button.dataset.done;
}

// --- fitting -----------------------------------------------------------------------------

// fit lets coming and past rows give way, then the drawing shrink, then meanings go, until all
// that hands must do is in sight. What still is not is counted in a bar.
function fit() {
  document.documentElement.style.setProperty("--refused", `${refused()}px`);
  fitted();
  const past = document.querySelector(".knit-past");
  for (const row of past?.children || []) row.hidden = false; // a row that is cut off says nothing
  const end = past?.getBoundingClientRect().bottom + 2;
  for (const row of past?.children || []) row.hidden = row.getBoundingClientRect().bottom > end;
}

// refused is how much of the screen the words over the page take.
const refused = () => ($("refusal").textContent ? Math.ceil($("refusal").getBoundingClientRect().bottom + scrollY) : 0);

function fitted() {
  const knit = $("knit"),
    band = $("band"),
    more = $("band-more");
  if (!band) {
    if (knit) knit.dataset.fit = 0; // nothing is to be done here
    return;
  }
  more.hidden = true;
  band.onscroll = count;
  const least = 84,
    over = () => Math.max(band.scrollHeight - band.clientHeight, knit.scrollHeight - innerHeight + refused());
  // Her own controls stay drawn as long as the rest fits beside them, then said in a line.
  for (const face of knit.querySelector(".band-face") ? ["", "line", "none"] : [""]) {
    knit.dataset.face = face;
    for (let n = 0; n <= 6; n++) {
      knit.dataset.fit = n;
      knit.style.removeProperty("--draw");
      if (over() <= 2) return;
      const drawn = $("needles").getBoundingClientRect().height;
      if (n < 2 || drawn < least) continue;
      knit.style.setProperty("--draw", `${Math.max(least, Math.floor(drawn - over() - 2))}px`);
      if (over() <= 2) return;
    }
  }
  more.hidden = false;
  count();
}

function count() {
  const band = $("band"),
    more = $("band-more"),
    end = band.getBoundingClientRect().bottom;
  const below = [...band.querySelectorAll(".band-steps li, .band-lays li, .band-choice, .band-restore, .band-care")].filter(
    (el) => el.getBoundingClientRect().bottom > end + 3,
  ).length;
  more.hidden = !below;
  more.textContent = `${below} ${more.dataset.words}`;
}

// --- the needles ---------------------------------------------------------------------------

// move shows other needles, by so many along the bed.
async function move(by) {
  const knit = $("knit"),
    at = Number(knit.dataset.shift || 0) + by;
  const answer = await fetch(`/pieces/${knit.dataset.piece}/knit?at=${at}`);
  if (!answer.ok) return;
  const page = new DOMParser().parseFromString(await answer.text(), "text/html");
  const drawn = page.getElementById("needles");
  if (!drawn || page.getElementById("knit").dataset.done !== knit.dataset.done) return;
  $("needles").replaceWith(document.importNode(drawn, true));
  knit.dataset.shift = at;
}

function drag() {
  let from = null;
  document.addEventListener("pointerdown", (e) => {
    if (e.target.closest?.(".needles")) from = e.clientX;
  });
  document.addEventListener("pointerup", (e) => {
    if (from === null) return;
    const drawn = $("needles"),
      step = (Number(drawn?.dataset.step) / 0.36 / 1000) * (drawn?.clientWidth || 1);
    const by = Math.round((from - e.clientX) / Math.max(step, 4));
    from = null;
    if (Math.abs(by) > 1) move(by);
  });
}
