// Words of ours are explained where they stand: a label, a heading of a table or a summary that is such a
// word has its meaning as a tooltip, which a resting finger and a screen reader are told too.
let words = null;

export async function startExplain() {
  if (document.getElementById("knit") || !document.getElementById("main")) return;
  try {
    words = await (await fetch("/words.json")).json();
  } catch {
    return; // without it nothing is explained here; the page of words is one step away
  }
  explain();
  document.addEventListener("htmx:afterSettle", explain);
}

// own is the text of an element itself, without that of fields in it.
const own = (el) =>
  [...el.childNodes]
    .filter((n) => n.nodeType === 3 || n.className === "explained")
    .map((n) => n.textContent)
    .join(" ")
    .replace(/\s+/g, " ")
    .trim();

// meaningOf finds the longest word that a text begins with: "Half-drop, rows" is a half-drop.
function meaningOf(text) {
  const said = text.toLowerCase().replace(/[.:]$/, "");
  for (let parts = said.split(/[ ,]+/).slice(0, 4); parts.length; parts.pop()) {
    const word = parts.join(" ");
    if (words[word]) return words[word];
    if (word.endsWith("s") && words[word.slice(0, -1)]) return words[word.slice(0, -1)];
  }
  return "";
}

function explain() {
  for (const el of document.querySelectorAll("#main :is(label, th, dt, legend, summary):not(.glossary *)")) {
    if (el.title || el.dataset.explained) continue;
    const meaning = meaningOf(own(el));
    if (!meaning) continue;
    el.dataset.explained = "yes";
    const said = [...el.childNodes].find((n) => n.nodeType === 3 && n.data.trim()),
      word = document.createElement("span");
    word.className = "explained";
    word.textContent = said.data.trim();
    said.replaceWith(word, " ");
    el.title = meaning;
    el.querySelector("input, select")?.setAttribute("aria-description", meaning);
  }
}
