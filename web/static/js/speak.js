// Hands free: the page's own words spoken by this browser's voice, sounds, the whole screen. Each is switched
// on for this browser, and kept in it.

const $ = (id) => document.getElementById(id);
const kept = { speak: false, sound: false, speed: 1, words: "steps", ...read() };
let last = "";

function read() {
  try {
    return JSON.parse(localStorage.getItem("hands-free")) || {};
  } catch {
    return {};
  }
}

function keep() {
  try {
    localStorage.setItem("hands-free", JSON.stringify(kept));
  } catch {
    /* it lasts as long as the page */
  }
}

export function startSpeak() {
  if (!$("knit")) return;
  document.addEventListener("change", (e) => {
    const name = e.target.dataset?.free;
    if (!name) return;
    kept[name] = e.target.type === "checkbox" ? e.target.checked : e.target.value;
    keep();
    show();
    if (name !== "sound" && kept.speak) say(true);
    else if (kept.sound) tone("pass");
  });
  document.addEventListener("click", (e) => {
    if (e.target.closest?.("#say-again")) say(true);
    if (e.target.closest?.("#whole-screen")) whole();
  });
  document.addEventListener("htmx:afterSettle", (e) => {
    if (e.detail.target.id !== "knit" && e.detail.elt.id !== "knit") return;
    show();
    turned();
  });
  document.addEventListener("fullscreenchange", show);
  last = place();
  show();
}

// heard says that the page is listened to, whether it is seen or not.
export const heard = () => kept.speak || kept.sound;

const place = () => $("knit")?.dataset.place || "";

// show sets the switches as they are kept; the button that repeats is there when something is spoken.
function show() {
  for (const el of document.querySelectorAll("[data-free]")) {
    if (el.type === "checkbox") el.checked = kept[el.dataset.free];
    else el.value = kept[el.dataset.free];
  }
  const again = $("say-again");
  if (again) again.hidden = !kept.speak;
  const screen = $("whole-screen");
  if (screen) screen.setAttribute("aria-pressed", !!document.fullscreenElement);
  const withheld = $("withheld");
  if (withheld) withheld.hidden = isSecureContext;
}

// turned speaks and sounds when the page shows another place.
function turned() {
  if (place() === last) return;
  last = place();
  if (kept.sound) tone(document.querySelector(".knit-wrong, .knit-behind") ? "trouble" : document.querySelector(".band-steps li, .band-lays li, .band-care") ? "hands" : "pass");
  if (kept.speak) say(false);
}

const text = (el) => {
  const copy = el.cloneNode(true);
  copy.querySelectorAll(".labels, .meaning, kbd, svg").forEach((x) => x.remove());
  return copy.textContent.replace(/\s+/g, " ").trim();
};

// spoken is what is said: the same words as the page's.
export function spoken() {
  const all = (css) => [...document.querySelectorAll(css)].map(text).filter(Boolean);
  const trouble = [...all(".knit-wrong p"), ...all(".knit-wrong .wire-do li"), ...all(".knit-behind")];
  if (trouble.length) return trouble.join(". ");
  const parts = [];
  if (kept.words !== "steps") parts.push(...all(".band-row > b"), ...all(".band-row > span:not(.band-yarns)"));
  parts.push(...all(".band-restore li"), ...all(".band-steps li"), ...all(".band-lays li"), ...all(".band-choice p"), ...all(".band-care"));
  if (kept.words === "all") parts.push(...all(".band-see"));
  if (document.querySelector(".band-done")) parts.push(...all(".band-done h2"), ...all(".band-done li"));
  return parts.join(". ").replace(/\.\./g, ".");
}

function say(again) {
  const voices = window.speechSynthesis,
    words = spoken();
  if (!voices) {
    $("refusal").textContent = $("knit").dataset.mute;
    return;
  }
  voices.cancel();
  if (!words) return;
  const u = new SpeechSynthesisUtterance(words);
  u.rate = Number(kept.speed) || 1;
  u.lang = document.documentElement.lang || "en";
  voices.speak(u);
  if (again) $("say-again")?.focus({ preventScroll: true });
}

let sounds;
const pitches = { pass: [660], hands: [660, 880], trouble: [330, 262, 330] };

// tone plays short tones: one for a pass, two where hands have something to do, three low ones for trouble.
function tone(what) {
  try {
    sounds ||= new AudioContext();
    pitches[what].forEach((hz, i) => {
      const o = sounds.createOscillator(),
        g = sounds.createGain(),
        at = sounds.currentTime + 0.16 * i;
      o.frequency.value = hz;
      g.gain.setValueAtTime(0.18, at);
      g.gain.exponentialRampToValueAtTime(0.001, at + 0.14);
      o.connect(g).connect(sounds.destination);
      o.start(at);
      o.stop(at + 0.15);
    });
    $("knit").dataset.tone = what;
  } catch {
    /* no sound here */
  }
}

async function whole() {
  try {
    if (document.fullscreenElement) await document.exitFullscreen();
    else await document.documentElement.requestFullscreen();
  } catch {
    $("refusal").textContent = $("knit").dataset.whole;
  }
}
