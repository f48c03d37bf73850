// What every page does: keys, staying in place, fingers, the theme, refusals.
import "../vendor/htmx.min.js";
import { startDesk } from "./desk.js";
import { startKnit } from "./knit.js";
import { startPlace } from "./place.js";
import { startShape } from "./shape.js";
import { startFace } from "./face.js";
import { startProve } from "./prove.js";
import { startWrong } from "./wrong.js";
import { startSpeak } from "./speak.js";
import { startRecipe } from "./recipe.js";
import { startKeys } from "./keys.js";
import { startExplain } from "./explain.js";
import { startStay } from "./stay.js";
import { startTouch } from "./touch.js";
import "./owned.js";

// say reads words out, with a voice of this machine's own.
function say(words) {
  const voices = window.speechSynthesis;
  if (!voices) {
    document.getElementById("refusal").textContent = "This browser cannot read aloud.";
    return;
  }
  voices.cancel();
  voices.speak(new SpeechSynthesisUtterance(words));
}

document.addEventListener("click", (e) => {
  const el = e.target.closest("[data-do]");
  if (el?.dataset.do === "theme") setTheme();
  if (el?.dataset.do === "print") window.print();
  if (el?.dataset.do === "say") say(el.dataset.say);
});

// What is refused, since another page has overtaken this one or for another reason, is said,
// and the page stays as it is.
document.addEventListener("htmx:responseError", (e) => {
  if (document.getElementById("knit")) return;
  const words = new DOMParser().parseFromString(e.detail.xhr.responseText, "text/html").querySelector(".message-words");
  document.getElementById("refusal").textContent = words?.textContent || "That was not done. Load the page again to see how things stand.";
});
document.addEventListener("htmx:sendError", () => {
  if (document.getElementById("knit")) return;
  document.getElementById("refusal").textContent = "Vindel does not answer, so that is not known to be done. Load the page again when it does.";
});

// What is wrong with a field stands beside it, and the form stays as it was.
document.addEventListener("htmx:beforeSwap", (e) => {
  const form = e.detail.requestConfig?.elt?.closest?.("form");
  if (e.detail.xhr.status !== 422 || !form) return;
  const fields = [...form.elements].filter((f) => f.matches("input:not([type=hidden]), select, textarea") && f.getClientRects().length),
    field = fields.includes(document.activeElement) ? document.activeElement : fields[0];
  if (!field) return;
  const words = new DOMParser().parseFromString(e.detail.xhr.responseText, "text/html").querySelector(".message-words")?.textContent;
  if (!words) return;
  e.detail.shouldSwap = false;
  clear(form);
  const p = document.createElement("p");
  p.className = "field-wrong";
  p.id = "field-wrong";
  p.setAttribute("role", "alert");
  p.textContent = words;
  field.setAttribute("aria-invalid", "true");
  field.setAttribute("aria-describedby", "field-wrong");
  (field.closest("label") || field).after(p);
});
function clear(form) {
  document.getElementById("field-wrong")?.remove();
  for (const f of form.querySelectorAll("[aria-invalid]")) {
    f.removeAttribute("aria-invalid");
    f.removeAttribute("aria-describedby");
  }
}
document.addEventListener("input", (e) => e.target.form && e.target.getAttribute("aria-invalid") && clear(e.target.form));

// A new request forgets what the last one was refused for.
document.addEventListener("htmx:beforeRequest", () => {
  document.getElementById("refusal").textContent = "";
});

// What is sent says on what it was filled in: the piece's revision, or the state of the machine or project.
function shownState() {
  const main = document.getElementById("main"),
    rev = JSON.parse(main?.getAttribute("hx-headers") || "{}")["Vindel-Rev"];
  return Object.entries({ rev, state: main?.dataset.state }).filter(([, value]) => value);
}
document.addEventListener("formdata", (e) => {
  if (e.target.method !== "post") return;
  for (const [name, value] of shownState()) if (!e.formData.has(name)) e.formData.set(name, value);
});
document.addEventListener("htmx:configRequest", (e) => {
  if (e.detail.verb !== "post") return;
  for (const [name, value] of shownState()) e.detail.parameters[name] ??= value;
});

// A file chosen or a text written chooses its way to begin a piece.
document.addEventListener("input", (e) => {
  const from = e.target.dataset?.picks;
  if (from) document.querySelector(`input[name=from][value=${from}]`).checked = true;
});

// What takes over a second says that it is being worked out.
let busy = null;
const working = (on) => {
  clearTimeout(busy);
  if (on) busy = setTimeout(() => document.body.classList.add("is-busy"), 900);
  else document.body.classList.remove("is-busy");
};
document.addEventListener("htmx:beforeRequest", () => working(true));
document.addEventListener("htmx:afterRequest", () => working(false));
document.addEventListener("submit", (e) => e.defaultPrevented || working(true));
addEventListener("pageshow", () => working(false));

// A number is taken whole by the first click or touch, so that what is typed replaces it.
let entered = null;
document.addEventListener("focusin", (e) => (entered = e.target));
document.addEventListener("click", (e) => {
  if (e.target === entered && e.target.matches("input.num")) e.target.select();
  entered = null;
});

function setTheme() {
  const root = document.documentElement;
  const dark = root.dataset.theme
    ? root.dataset.theme === "dark"
    : matchMedia("(prefers-color-scheme: dark)").matches;
  root.dataset.theme = dark ? "light" : "dark";
  fetch("/theme", { method: "POST", body: new URLSearchParams({ theme: root.dataset.theme }) });
  document.dispatchEvent(new Event("theme"));
}

startDesk();
startKnit();
startPlace();
startShape();
startProve();
startWrong();
startSpeak();
startFace();
startRecipe();
startKeys();
startTouch();
startExplain();
startStay();
