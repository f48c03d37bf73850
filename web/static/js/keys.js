// Keys. Every control that has a key carries it in data-key, so the sheet that lists them and
// the tooltips cannot disagree. Keys of one letter can be changed, and switched off; what was
// chosen is kept in this browser, since it belongs to the hands and pedals before it.
const named = { " ": "Space", Backspace: "⌫", Escape: "Esc", PageUp: "Page ↑", PageDown: "Page ↓", ArrowLeft: "←", ArrowRight: "→", ArrowUp: "↑", ArrowDown: "↓" };
const kept = { off: false, map: {}, ...read() };

function read() {
  try {
    return JSON.parse(localStorage.getItem("keys")) || {};
  } catch {
    return {};
  }
}

function keep() {
  try {
    localStorage.setItem("keys", JSON.stringify(kept));
  } catch {
    /* they last as long as the page */
  }
}

const station = () => document.body.className.match(/body-(\w+)/)?.[1] || "home";
const nameOf = (el) => `${station()} ${el.dataset.key}`;
const keyFor = (el) => kept.map[nameOf(el)] ?? el.dataset.key;
const shown = (el) => !el.disabled && el.getClientRects().length > 0;
const keyed = () => [...document.querySelectorAll("[data-key]")].filter((el) => el.dataset.key && shown(el));
const single = (key) => key.length === 1;

// said is a key as it is written.
const said = (key) =>
  key === "+"
    ? "+"
    : key
        .split("+")
        .map((k) => named[k] || (k.length === 1 ? k.toUpperCase() : k[0].toUpperCase() + k.slice(1)))
        .join(" + ");

function keyOf(e) {
  const key = e.key.length === 1 ? e.key.toLowerCase() : e.key;
  return (e.altKey ? "alt+" : "") + (e.shiftKey && e.key.length > 1 ? "shift+" : "") + key;
}

// find is what a key presses: of several the first, of what Esc leaves the innermost.
function find(key) {
  if (kept.off && single(key)) return null;
  const all = keyed().filter((el) => keyFor(el) === key);
  return key === "Escape" ? all.at(-1) : all[0];
}

// meant is the key that a pressed one stands for: a pedal that sends Page ↓ may mean Space.
export function meant(e) {
  const key = keyOf(e),
    el = find(key);
  if (el) return el.dataset.key;
  return kept.off && single(key) ? "" : key;
}

export const onButton = (e) => e.target.closest?.("button, a, summary, [role=button]");

function press(key) {
  const el = find(key);
  if (!el) return false;
  if (el.matches("input, select, textarea")) {
    el.focus(); // the key itself is not typed: whoever presses it stops that
    if (el.matches("input")) el.select(); // a text of many lines is not replaced by the next key
  } else el.click();
  return true;
}

// leave closes what is innermost: a list that was opened over the page.
function leave() {
  const open = [...document.querySelectorAll("details.knit-repeat[open]")].at(-1);
  if (!open) return false;
  open.open = false;
  open.querySelector("summary").focus();
  return true;
}

export function startKeys() {
  document.addEventListener("keydown", (e) => {
    if (changing) return change(e);
    const typing = e.target.closest("input, select, textarea") && !["radio", "checkbox"].includes(e.target.type);
    if (typing) {
      if (e.key === "Escape" && !e.target.closest("dialog")) e.target.blur();
      return;
    }
    if (e.ctrlKey || e.metaKey) {
      const again = { z: e.shiftKey ? "y" : "z", y: "y" }[e.key.toLowerCase()];
      if (again && press(again)) e.preventDefault();
      return;
    }
    if (document.querySelector("dialog[open]")) return;
    const key = keyOf(e);
    if (e.repeat && [" ", "Backspace"].includes(meant(e)) && document.querySelector("[data-held]")) return e.preventDefault();
    if (onButton(e) && (key === " " || key === "Enter")) return;
    if (key === "Escape" ? leave() || press(key) : press(key)) e.preventDefault();
    else if (key === "?" && !kept.off) show();
  });
  document.addEventListener("htmx:afterSettle", relabel);
  document.addEventListener("click", (e) => {
    if (e.target.closest("[data-do=keys]")) show();
    const row = e.target.closest("[data-rekey]");
    if (row) begin(row);
    if (e.target.closest("#keys-again")) {
      kept.map = {};
      keep();
      relabel();
      list();
    }
  });
  document.getElementById("keys-on")?.addEventListener("change", (e) => {
    kept.off = !e.target.checked;
    keep();
  });
  relabel();
}

// relabel writes keys of her own where the usual ones stand.
function relabel() {
  for (const el of document.querySelectorAll("[data-key]")) {
    const key = kept.map[nameOf(el)];
    if (key === undefined && el.dataset.rekeyed === undefined) continue;
    const now = key ?? el.dataset.key;
    el.dataset.rekeyed = now;
    const letter = el.querySelector("kbd");
    if (letter) letter.textContent = said(now);
    if (el.title) el.title = el.title.replace(/\s*\([^)]*\)\s*$/, "") + ` (${said(now)})`;
  }
}

const also = [
  ["desk", "Arrows", "Move the cursor; past the edge into the next repeat"],
  ["desk", "Page ↑ ↓", "Ten rows on"],
  ["desk", "Ctrl + ← →", "The same stitch in the next repeat"],
  ["desk", "Space", "Paint, and go on"],
  ["desk", "Enter", "Paint; a corner of a shape"],
  ["desk", "Shift + arrows", "Select"],
  ["desk", "Backspace", "Clear the selection"],
  ["desk", "Ctrl + Shift + arrows", "Shift round the edge"],
  ["desk", "Ctrl + A X V", "Select all, cut, stamp"],
  ["desk", "Ctrl + Z Y", "Undo and redo"],
  ["bed", "← →", "Move the area in hand a needle"],
  ["bed", "Shift + ← →", "Move its repeat"],
  ["bed", "Home", "Centre it"],
  ["knit", "Shift + ← →", "Other needles; or drag the drawing"],
];

function show() {
  list();
  document.getElementById("keys-on").checked = !kept.off;
  document.getElementById("key-sheet").showModal();
}

const wordsOf = (el) => (el.title || el.getAttribute("aria-label") || el.textContent).replace(/\s*\([^)]*\)\s*$/, "").trim();

function list() {
  const seen = new Set(),
    rows = [];
  for (const el of keyed()) {
    const words = wordsOf(el);
    if (!words || seen.has(el.dataset.key)) continue;
    seen.add(el.dataset.key);
    const p = document.createElement("p"),
      b = document.createElement("button"),
      k = document.createElement("kbd");
    b.type = "button";
    b.className = "key-change";
    b.dataset.rekey = nameOf(el);
    b.title = b.ariaLabel = `${said(keyFor(el))}: ${words}. Choose another key`;
    k.textContent = said(keyFor(el));
    b.append(k);
    p.append(b, words);
    rows.push(p);
  }
  for (const [on, key, words] of also) {
    if (!document.getElementById(on)) continue;
    const p = document.createElement("p"),
      k = document.createElement("kbd");
    k.textContent = key;
    p.append(k, words);
    rows.push(p);
  }
  document.getElementById("key-columns").replaceChildren(...rows);
}

let changing = null;

function begin(row) {
  changing = row;
  row.firstChild.textContent = "press it";
  tell(`Press the new key; ${said("Escape")} leaves it as it is.`);
}

function tell(words) {
  document.getElementById("keys-says").textContent = words;
}

// change takes the key that is pressed for the row in hand, unless it does something here already.
function change(e) {
  e.preventDefault();
  e.stopPropagation();
  if (["Shift", "Alt", "Control", "Meta"].includes(e.key)) return;
  const name = changing.dataset.rekey,
    key = keyOf(e),
    taken = keyed().find((el) => nameOf(el) !== name && keyFor(el) === key);
  changing = null;
  if (e.key === "Escape" || e.key === "Tab") tell("");
  else if (taken) tell(`${said(key)} is “${wordsOf(taken)}” already.`);
  else {
    if (name.slice(name.indexOf(" ") + 1) === key) delete kept.map[name];
    else kept.map[name] = key;
    keep();
    tell(`It is ${said(key)} now.`);
  }
  relabel();
  list();
  document.querySelector(`[data-rekey="${CSS.escape(name)}"]`)?.focus();
}
