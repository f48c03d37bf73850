// The recipe's text: what is typed is sent after a pause and kept in this browser until the server
// has it; faults stand under their words; the line under the cursor is shown beside it, in the round
// that is chosen. What a line means is the server's to say.

let timer = 0,
  asked = 0,
  rounds = {},
  sending = null;

const $ = (id) => document.getElementById(id);
const page = () => $("recipe");
const words = () => $("recipe-words");
const draftKey = () => `recipe ${page().dataset.piece} ${page().dataset.section}`;

export function startRecipe() {
  document.addEventListener("input", (e) => e.target === words() && typed());
  document.addEventListener("selectionchange", () => document.activeElement === words() && look());
  document.addEventListener("keydown", keys);
  document.addEventListener("click", click);
  document.addEventListener("htmx:afterSwap", begin);
  begin();
}

function begin() {
  if (!page() || !words() || words().dataset.begun) return;
  words().dataset.begun = "yes";
  const draft = localStorage.getItem(draftKey());
  if (draft !== null && draft !== words().value) {
    words().value = draft;
    send();
  }
  fit();
  under();
  mark(lineNow());
}

// stored throws away what was typed.
function stored() {
  localStorage.removeItem(draftKey());
  words().value = words().defaultValue;
  fit();
  words().focus();
  send();
}

// The text is as tall as its lines, so that the rail scrolls with it.
function fit() {
  const lines = words().value.split("\n").length;
  words().rows = Math.max(lines + 1, 8);
}

const lineNow = () => words().value.slice(0, words().selectionStart).split("\n").length;

function mark(line) {
  const now = $("recipe-now");
  if (!now) return;
  const h = parseFloat(getComputedStyle(words()).lineHeight);
  now.style.setProperty("top", `${8 + (line - 1) * h}px`);
  document
    .querySelectorAll(".recipe-rail li")
    .forEach((li, i) => li.classList.toggle("is-now", i + 1 === line));
}

// under draws numbers and the underlines of faults beneath the text.
function under() {
  const pre = $("recipe-under");
  pre.textContent = "";
  const faults = [...document.querySelectorAll(".recipe-at")].map((el) => el.dataset);
  words()
    .value.split("\n")
    .forEach((text, i) => {
      const no = document.createElement("b");
      no.textContent = i + 1;
      pre.append(no);
      const f = faults.find((f) => Number(f.line) === i + 1);
      if (!f) return pre.append(text + "\n");
      const chars = [...text],
        from = Number(f.col) - 1,
        bad = document.createElement("span");
      bad.textContent = chars.slice(from, from + Number(f.len)).join("") || "  ";
      pre.append(chars.slice(0, from).join(""), bad, chars.slice(from + Number(f.len)).join("") + "\n");
    });
}

function typed() {
  localStorage.setItem(draftKey(), words().value);
  fit();
  mark(lineNow());
  clearTimeout(timer);
  timer = setTimeout(send, 450);
}

let looked = 0;
function look() {
  const line = lineNow();
  if (line === looked) return;
  looked = line;
  mark(line);
  clearTimeout(timer);
  timer = setTimeout(send, 160);
}

async function send() {
  if (!page()) return;
  if (sending) {
    clearTimeout(timer);
    timer = setTimeout(send, 120);
    return;
  }
  const mine = ++asked,
    text = words().value,
    main = $("main"),
    form = new URLSearchParams({
      section: page().dataset.section,
      text,
      line: lineNow(),
      rounds: Object.entries(rounds)
        .map(([line, n]) => `${line}:${n}`)
        .join(","),
    });
  const rev = JSON.parse(main.getAttribute("hx-headers") || "{}");
  try {
    sending = fetch(`/pieces/${page().dataset.piece}/recipe`, { method: "POST", body: form, headers: rev });
    const answer = await sending;
    const html = await answer.text();
    if (mine !== asked || !page()) return;
    const doc = new DOMParser().parseFromString(html, "text/html");
    if (!answer.ok) {
      const said = doc.querySelector(".message-words");
      $("refusal").replaceChildren(said ? document.importNode(said, true) : "The server did not answer; what you typed is kept here.");
      return;
    }
    $("refusal").replaceChildren();
    main.setAttribute("hx-headers", JSON.stringify({ "Vindel-Rev": answer.headers.get("Vindel-Rev") }));
    for (const id of ["recipe-beside", "recipe-side", "bar-sum"]) {
      const now = doc.getElementById(id);
      if (now && $(id)) $(id).replaceWith(document.importNode(now, true));
    }
    window.htmx.process($("recipe-side"));
    if (document.querySelector(".recipe-rail[data-saved]") && words().value === text) {
      localStorage.removeItem(draftKey());
      words().defaultValue = text;
    }
    under();
    mark(lineNow());
  } catch {
    $("refusal").textContent = "The server does not answer. What you typed is kept in this browser, and sent when it does.";
    timer = setTimeout(send, 3000);
  } finally {
    sending = null;
  }
}

function keys(e) {
  if (e.target !== words()) return;
  if (e.key === "Tab" && !e.shiftKey && !e.altKey && !e.ctrlKey) {
    if (words().value.slice(0, words().selectionStart).split("\n").pop().trim()) return; // leaves the field
    e.preventDefault();
    document.execCommand("insertText", false, "  ");
  } else if (e.key === "Enter") {
    const before = words().value.slice(0, words().selectionStart).split("\n").pop();
    const indent = before.match(/^ */)[0] + (/^\s*repeat\b/.test(before) ? "  " : "");
    if (!indent) return;
    e.preventDefault();
    document.execCommand("insertText", false, "\n" + indent);
  }
}

function click(e) {
  const open = e.target.closest("[data-open]");
  if (open && $(open.dataset.open)) $(open.dataset.open).showModal();
  if (e.target.closest("#recipe-stored")) stored();
  const by = e.target.closest(".round-step [data-by]");
  if (!by) return;
  const step = by.closest(".round-step"),
    of = Number(step.dataset.of),
    now = Number(step.querySelector("b").textContent);
  rounds[step.dataset.line] = Math.min(Math.max(now + Number(by.dataset.by), 1), of);
  send();
}
