// Beside the machine: keep the screen awake while a pass is shown, and say when the
// server cannot be reached, so that nobody knits on a press that was not written down.
let lock = null;

async function awake() {
  if (!document.getElementById("knit") || document.visibilityState !== "visible" || !navigator.wakeLock) return;
  try {
    lock = await navigator.wakeLock.request("screen");
  } catch {
    lock = null; // the battery or the browser says no: the page works all the same
  }
}

export function startKnit() {
  if (!document.getElementById("knit")) return;
  awake();
  document.addEventListener("visibilitychange", awake);
  const say = (words) => {
    document.getElementById("refusal").textContent = words;
  };
  document.addEventListener("htmx:sendError", () =>
    say("Vindel does not answer: this press was not written down. Start it again; your place is safe."),
  );
  document.addEventListener("htmx:responseError", () =>
    say("This press was not written down. Load the page again to see where you are."),
  );
  document.addEventListener("htmx:afterSwap", () => say(""));
}
