// Keys, theme, and the sheet that lists the keys. Every control that has a key carries
// it in data-key, so the sheet and the tooltips cannot disagree.
import { startDesk } from "./desk.js";
import { startKnit } from "./knit.js";
import { startPlace } from "./place.js";
import { startShape } from "./shape.js";
import { startProve } from "./prove.js";
import { startRecipe } from "./recipe.js";
import "./owned.js";

const named = { " ": "Space", Backspace: "⌫", Escape: "Esc" };

function keyOf(e) {
  const key = e.key.length === 1 ? e.key.toLowerCase() : e.key;
  let mods = "";
  if (e.altKey) mods += "alt+";
  if (e.shiftKey && e.key.length > 1) mods += "shift+";
  return mods + key;
}

document.addEventListener("keydown", (e) => {
  const typing = e.target.closest("input, select, textarea") && e.target.type !== "radio";
  if (typing) {
    if (e.key === "Escape") e.target.blur();
    return;
  }
  if (e.ctrlKey || e.metaKey) {
    const again = { z: e.shiftKey ? "y" : "z", y: "y" }[e.key.toLowerCase()];
    if (again && press(again)) e.preventDefault();
    return;
  }
  if (document.querySelector("dialog[open]")) return;
  if (e.repeat && (e.key === " " || e.key === "Backspace") && document.querySelector("[data-held]")) return e.preventDefault();
  if (e.target.closest("button, a, summary") && (e.key === " " || e.key === "Enter") && !e.target.closest(".knit"))
    return;
  if (press(keyOf(e))) e.preventDefault();
});

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

function press(key) {
  const all = [...document.querySelectorAll("[data-key]")].filter(
    (el) => el.dataset.key === key && !el.disabled && el.offsetParent !== null,
  );
  const el = all[0];
  if (!el) return false;
  if (el.matches("input, select, textarea"))
    setTimeout(() => {
      el.focus();
      el.select?.();
    }); // so that the key itself is not typed
  else el.click();
  return true;
}

document.addEventListener("click", (e) => {
  const el = e.target.closest("[data-do]");
  if (el?.dataset.do === "theme") setTheme();
  if (el?.dataset.do === "print") window.print();
  if (el?.dataset.do === "keys") showKeys();
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

// A new request forgets what the last one was refused for.
document.addEventListener("htmx:beforeRequest", () => {
  document.getElementById("refusal").textContent = "";
});

// A file chosen or a text written chooses its way to begin a piece.
document.addEventListener("input", (e) => {
  const from = e.target.dataset?.picks;
  if (from) document.querySelector(`input[name=from][value=${from}]`).checked = true;
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

function showKeys() {
  const list = document.getElementById("key-columns");
  const rows = [];
  for (const el of document.querySelectorAll("[data-key]")) {
    const words = (el.title || el.getAttribute("aria-label") || el.textContent)
      .replace(/\s*\([^)]*\)\s*$/, "")
      .trim();
    const key =
      el.dataset.key === "+"
        ? "+"
        : el.dataset.key
            .split("+")
            .map((k) => named[k] || (k.length === 1 ? k.toUpperCase() : k[0].toUpperCase() + k.slice(1)))
            .join(" + ");
    if (words) rows.push([key, words]);
  }
  if (document.getElementById("desk"))
    rows.push(
      ["Arrows", "Move the cursor"],
      ["Page ↑ ↓", "Ten rows on"],
      ["Ctrl + ← →", "The same stitch in the next repeat"],
      ["Space", "Paint, and go on"],
      ["Enter", "Paint; a corner of a shape"],
      ["Shift + arrows", "Select"],
      ["Backspace", "Clear the selection"],
      ["Ctrl + Shift + arrows", "Shift round the edge"],
      ["Ctrl + A X V", "Select all, cut, stamp"],
      ["Ctrl + Z Y", "Undo and redo"],
    );
  if (document.getElementById("bed"))
    rows.push(["← →", "Move the area in hand a needle"], ["Shift + ← →", "Move its repeat"], ["Home", "Centre it"]);
  if (document.getElementById("knit")) rows.push(["Shift + ← →", "Other needles; or drag the drawing"]);
  list.replaceChildren(
    ...rows.map(([key, words]) => {
      const p = document.createElement("p");
      const k = document.createElement("kbd");
      k.textContent = key;
      p.append(k, words);
      return p;
    }),
  );
  document.getElementById("key-sheet").showModal();
}

startDesk();
startKnit();
startPlace();
startShape();
startProve();
startRecipe();
