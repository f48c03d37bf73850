// Fingers: a long press names what is under it, and on a first visit a strip says what each
// icon does, since nothing shows its name to a finger that rests.
const wait = 500;
let timer = null,
  named = false;

const nameOf = (el) => (el.title || el.getAttribute("aria-label") || "").trim();

export function startTouch() {
  const bubble = document.createElement("p");
  bubble.id = "named";
  bubble.className = "named";
  bubble.hidden = true;
  bubble.setAttribute("role", "status");
  document.body.append(bubble);
  document.addEventListener("pointerdown", (e) => {
    clearTimeout(timer);
    named = false;
    bubble.hidden = true;
    if (e.pointerType !== "touch") return;
    const el = e.target.closest("[title], [aria-label]:is(button, a, [role=button], [role=radio])");
    if (!el || !nameOf(el)) return;
    timer = setTimeout(() => {
      named = true;
      show(bubble, el);
    }, wait);
  });
  for (const end of ["pointercancel", "pointerup"]) document.addEventListener(end, () => clearTimeout(timer));
  document.addEventListener("pointermove", (e) => {
    if (Math.hypot(e.movementX, e.movementY) > 6) clearTimeout(timer);
  });
  // A press that only named does nothing else.
  document.addEventListener(
    "click",
    (e) => {
      if (!named) return;
      named = false;
      e.preventDefault();
      e.stopPropagation();
      setTimeout(() => (bubble.hidden = true), 2500);
    },
    true,
  );
  document.addEventListener("contextmenu", (e) => {
    if (named) e.preventDefault();
  });
  strip();
}

function show(bubble, el) {
  const r = el.getBoundingClientRect();
  bubble.textContent = nameOf(el).replace(/\s*\([^)]*\)\s*$/, "");
  bubble.hidden = false;
  const w = bubble.offsetWidth,
    above = r.top > 60;
  bubble.style.left = `${Math.max(8, Math.min(innerWidth - w - 8, r.left + r.width / 2 - w / 2))}px`;
  bubble.style.top = `${above ? r.top - bubble.offsetHeight - 8 : r.bottom + 8}px`;
}

// strip lists the icons of the desk with their names, until it is put away.
function strip() {
  const at = document.getElementById("icon-strip");
  if (!at || !matchMedia("(any-pointer: coarse)").matches) return;
  try {
    if (localStorage.getItem("icons-known")) return;
  } catch {
    return;
  }
  const list = at.querySelector("ul");
  for (const b of document.querySelectorAll(".desk button:has(svg)[aria-label]")) {
    const li = document.createElement("li"),
      svg = b.querySelector("svg").cloneNode(true);
    if (b.closest(".yarns")) continue;
    svg.setAttribute("aria-hidden", "true");
    li.append(svg, b.getAttribute("aria-label"));
    list.append(li);
  }
  at.hidden = false;
  at.querySelector("button").addEventListener("click", () => {
    at.hidden = true;
    localStorage.setItem("icons-known", "yes");
    dispatchEvent(new Event("resize"));
  });
}
