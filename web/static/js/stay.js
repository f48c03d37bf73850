// Staying where one is: after a change the focus is where it was, or at what has come into its
// place, what was being typed is not lost, and what has changed is said to those who listen.
let byKey = false;

const volatile = new Set(["from", "head", "place", "index", "state", "rev"]);
const reached = () =>
  [...document.querySelectorAll("#main :is(a[href], button, input:not([type=hidden]), select, textarea, summary, [tabindex='0'])")].filter(
    (el) => !el.disabled && el.getClientRects().length,
  );

// signOf tells an element on the next page: by what it does, not by where it stands.
function signOf(el) {
  if (el.id && el.id !== "main") return "#" + el.id;
  const form = el.form && [...new FormData(el.form)].filter(([k]) => !volatile.has(k) && el.form.elements[k]?.type === "hidden");
  const words = el.matches("button, a, summary") ? el.getAttribute("aria-label") || el.textContent.trim() : el.getAttribute("aria-label");
  const data = Object.entries(el.dataset).filter(([k]) => ["section", "area", "side", "corner", "key", "do"].includes(k));
  return JSON.stringify([el.tagName, el.name, el.form?.getAttribute("action") ?? el.getAttribute("href"), form, words, data]);
}

function mark() {
  const el = document.activeElement;
  if (!el || el === document.body || !el.closest("#main") || el.id === "main") return null;
  const all = reached(),
    sign = signOf(el);
  const typed = el.matches("input:not([type=radio],[type=checkbox],[type=file],[type=color]), textarea") && el.value !== el.defaultValue;
  return {
    sign,
    nth: all.filter((o) => signOf(o) === sign).indexOf(el),
    at: all.indexOf(el),
    typed: typed ? [el.value, el.selectionStart] : null,
    top: el.getBoundingClientRect().top,
  };
}

// still keeps what had the focus where it stood in the window, or else the page where it was scrolled to.
function still(m, y) {
  const el = document.activeElement;
  if (m && el && el !== document.body && signOf(el) === m.sign) scrollBy({ top: el.getBoundingClientRect().top - m.top, behavior: "instant" });
  else scrollTo({ top: y, behavior: "instant" });
}

function back(m) {
  if (!m) return;
  const now = document.activeElement,
    lost = !now || now === document.body || now.id === "main";
  if (!lost && signOf(now) !== m.sign) return;
  const all = reached(),
    same = all.filter((el) => signOf(el) === m.sign);
  const el = same[Math.max(0, Math.min(m.nth, same.length - 1))] || all[Math.min(m.at, all.length - 1)];
  if (!el) return;
  if (lost) el.focus({ preventScroll: true });
  if (m.typed && same.length && el.matches("input, textarea")) {
    el.value = m.typed[0];
    try {
      el.setSelectionRange(m.typed[1], m.typed[1]);
    } catch {
      /* a field that has no place in its text */
    }
  }
}

export function startStay() {
  addEventListener("keydown", () => (byKey = true), true);
  addEventListener("pointerdown", () => (byKey = false), true);
  let held = null,
    y = null; // null: not the whole page is another
  document.addEventListener("htmx:beforeSwap", (e) => {
    y = e.detail.target?.id === "main" ? scrollY : null;
    // Beside the machine a finger leaves nothing in focus, so that Space goes on meaning the pass.
    held = document.getElementById("knit") && !byKey ? null : mark();
    // What was sent has its answer; only what is typed in another form meanwhile is kept.
    if (held && e.detail.requestConfig?.elt?.contains(document.activeElement)) held.typed = null;
  });
  // At once, before another key can come: one that went into the new field would be overwritten.
  document.addEventListener("htmx:afterSwap", () => {
    back(held);
    if (held) held.typed = null;
  });
  document.addEventListener("htmx:afterSettle", () => {
    back(held);
    if (y !== null) still(held, y);
    held = y = null;
    announce();
  });
  document.addEventListener("click", (e) => {
    const pressed = e.target.closest("#knit button, #knit summary");
    if (!byKey && pressed === document.activeElement) pressed?.blur(); // not what the press has led to
  });
  document.addEventListener("submit", (e) => {
    if (e.defaultPrevented || e.target.method !== "post") return;
    remember({ path: location.pathname, mark: mark(), y: scrollY });
  });
  const was = remembered();
  if (was?.path === location.pathname) {
    scrollTo(0, was.y);
    back(was.mark);
  }
  announce();
  document.addEventListener("changed", announce);
}

function remember(v) {
  try {
    sessionStorage.setItem("stay", JSON.stringify(v));
  } catch {
    /* the page then begins at its top */
  }
}

function remembered() {
  try {
    const v = JSON.parse(sessionStorage.getItem("stay"));
    sessionStorage.removeItem("stay");
    return v;
  } catch {
    return null;
  }
}

let told = null;

// announce says the next pass, or what was found, where it is not what was said before.
function announce() {
  const words = nextPass() || found();
  if (words && told !== null && words !== told) document.getElementById("announce").textContent = words;
  told = words;
}

const textOf = (el) => el.innerText.replace(/\s+/g, " ").trim();

function nextPass() {
  const band = document.getElementById("band");
  if (!band) return document.querySelector(".band-done")?.innerText || "";
  const parts = [...band.querySelectorAll(".band-counter, .band-row > :is(b, span), .band-steps li, .band-lays li, .band-choice p, .band-see")];
  const way = band.querySelector(".band-arrow")?.getAttribute("aria-label") || "";
  return [way, ...parts.map(textOf)].filter(Boolean).join(". ");
}

function found() {
  const list = document.getElementById("findings");
  if (!list) return "";
  return [...list.querySelectorAll(".finding")].slice(0, 4).map(textOf).join(". ");
}
