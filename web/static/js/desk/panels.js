// What opens beside the board: a row typed as runs, lettering, another size, a chart
// brought in with its picture looked at first, and named versions.
import { d, W, H, $ } from "./state.js";
import { draw, goTo } from "./board.js";
import { post, postForm, refuse } from "./server.js";
import { choose, showTyped } from "./tools.js";
import { sign } from "./signs.js";

let timer, counting;

export function startPanels() {
  $("typed").addEventListener("keydown", typedKeys);
  $("typed").addEventListener("input", () => {
    clearTimeout(counting);
    counting = setTimeout(count, 90);
  });
  $("typed-form").addEventListener("submit", (e) => {
    e.preventDefault();
    typed(false);
  });
  for (const b of document.querySelectorAll("[data-open]")) b.addEventListener("click", () => open(b.dataset.open));
  $("size-form").addEventListener("submit", resize);
  $("letters-form").addEventListener("submit", letters);
  const bring = $("bring-form");
  bring.addEventListener("input", () => {
    clearTimeout(timer);
    timer = setTimeout(preview, 250);
  });
  bring.addEventListener("submit", (e) => {
    e.preventDefault();
    postForm("picture", form(), () => {
      $("bring").close();
      goTo(1, 1);
    });
  });
  startCrop();
}

function open(name) {
  const dialog = $(name);
  if (name === "size") {
    $("size-w").value = W();
    $("size-h").value = H();
  }
  dialog.showModal();
}

// --- a row as runs -----------------------------------------------------------------

// count says how many stitches are typed so far.
async function count() {
  const got = await fetch(`/pieces/${d.s.piece}/row?text=${encodeURIComponent($("typed").value)}`);
  if (got.ok) $("typed-count").textContent = `${(await got.json()).typed} of ${W()}`;
}

function typed(on) {
  const row = Number($("typed").dataset.row);
  post("row", { chart: d.s.chart, label: "type a row", row, text: $("typed").value }, () => {
    if (on) {
      goTo(Math.min(row + 1, H()), d.cursor.column);
      $("typed").dataset.row = "";
      showTyped();
      $("typed").select();
    }
  });
}

function typedKeys(e) {
  if (e.key === "Enter") {
    e.preventDefault();
    typed(true);
  }
  if (e.key === "ArrowUp" || e.key === "ArrowDown") {
    e.preventDefault();
    goTo(d.cursor.row + (e.key === "ArrowUp" ? 1 : -1), d.cursor.column);
    e.target.dataset.row = "";
    showTyped();
    e.target.select();
  }
  if (e.key === "Escape") {
    e.stopPropagation();
    $("board").focus();
  }
}

// --- size and lettering ------------------------------------------------------------

function resize(e) {
  e.preventDefault();
  const f = new FormData(e.target);
  post(
    "redraw",
    {
      chart: d.s.chart,
      label: "resize",
      edit: { do: "resize", w: Number(f.get("w")), h: Number(f.get("h")), at: f.get("at") },
    },
    () => $("size").close(),
  );
}

async function letters(e) {
  e.preventDefault();
  const f = new FormData(e.target),
    ink = d.s.palette[d.mark - 1].char;
  const answer = await fetch(`/pieces/${d.s.piece}/lettering`, {
    method: "POST",
    headers: { "Content-Type": "application/json", Accept: "application/json" },
    body: JSON.stringify({ chart: d.s.chart, text: f.get("text"), tall: f.get("tall") === "yes" }),
  });
  const got = await answer.json();
  $("letters-says").textContent = answer.ok ? "" : got.error;
  if (!answer.ok) return;
  d.clip = got.rows
    .map((r) => r.replaceAll("#", "\u0000").replaceAll(".", d.s.blank).replaceAll("\u0000", ink))
    .reverse();
  if (d.clip[0].length > W() || d.clip.length > H()) {
    $("letters-says").textContent =
      `These letters are ${d.clip[0].length} × ${d.clip.length}; the chart has ${W()} × ${H()}. Make it larger first, or write less.`;
    return;
  }
  $("letters").close();
  d.cursor = {
    row: Math.min(d.cursor.row, H() - d.clip.length + 1),
    column: Math.min(d.cursor.column, W() - d.clip[0].length + 1),
  };
  choose("stamp");
  if (got.mirrored)
    refuse(
      "The chart is drawn for the other side than is worn, so the letters stand in a mirror here, and read right on the worn side.",
    );
  $("board").focus();
  draw();
}

// --- bring a chart in ----------------------------------------------------------------

const form = () => {
  const f = new FormData($("bring-form"));
  if (f.get("file") && !f.get("file").size) f.delete("file");
  if (f.get("as") !== "file") f.delete("file");
  else f.delete("text");
  f.set("chart", d.s.chart);
  if (f.get("shape") === "fabric") f.set("tall", String(d.s.proportion || 1));
  else f.set("tall", "1");
  return f;
};

// preview shows what would come in: nothing is changed until it is taken.
async function preview() {
  const f = form(),
    file = f.get("file"),
    says = $("bring-says");
  const isPicture = file && /\.(png|jpe?g|gif|webp)$/i.test(file.name);
  $("bring-form").dataset.as = isPicture ? "picture" : f.get("as");
  if (isPicture && $("bring-picture").dataset.name !== file.name + file.size) {
    const reader = new FileReader();
    reader.onload = () => {
      $("bring-picture").src = reader.result;
    };
    reader.readAsDataURL(file);
    $("bring-picture").dataset.name = file.name + file.size;
    $("bring-form").elements.crop.value = "";
    showCrop();
  }
  if (!file && !f.get("text")) return;
  const answer = await fetch(`/pieces/${d.s.piece}/sample`, {
    method: "POST",
    headers: { Accept: "application/json" },
    body: f,
  });
  const got = await answer.json();
  if (!answer.ok) {
    says.textContent = got.error;
    return;
  }
  says.textContent = [
    `${got.w} stitches × ${got.h} rows`,
    ...(got.lace
      ? ["lace"]
      : [got.crowded ? `${got.crowded} rows have more than two colours` : "no row has more than two colours"]),
    ...(got.notes || []),
  ].join("; ");
  $("bring-one").hidden = !got.repeat;
  $("bring-one").querySelector("span").textContent = got.repeat ? `This is ${got.repeat}, ${got.times} times: keep one` : "";
  says.classList.toggle("is-bad", got.crowded > 0 && !got.lace);
  const canvas = $("bring-canvas"),
    c = canvas.getContext("2d");
  const h = Math.max(1, Math.floor(Math.min(300 / got.h, 420 / got.w / d.s.proportion))),
    w = Math.max(1, Math.round(h * d.s.proportion));
  canvas.width = got.w * w;
  canvas.height = got.h * h;
  got.rows.forEach((row, y) =>
    [...row].forEach((ch, x) => {
      c.fillStyle = got.colours[ch] || d.s.cells[ch]?.colour || (ch === "." ? "#e6ddca" : "#5a6663");
      c.fillRect(x * w, y * h, Math.max(1, w - (w > 4)), Math.max(1, h - (h > 4)));
      if (got.marks?.[ch]) sign(c, { stitch: got.marks[ch] }, x * w, y * h, w, h);
    }),
  );
}

// The crop is dragged on the picture; it is kept in hundredths of its width and height.
function startCrop() {
  const stage = $("bring-stage");
  let from = null;
  const at = (e) => {
    const r = $("bring-picture").getBoundingClientRect();
    const pc = (v, o, size) => Math.max(0, Math.min(100, Math.round(((v - o) / size) * 100)));
    return [pc(e.clientX, r.left, r.width), pc(e.clientY, r.top, r.height)];
  };
  stage.addEventListener("pointerdown", (e) => {
    from = at(e);
    stage.setPointerCapture(e.pointerId);
    e.preventDefault();
  });
  stage.addEventListener("pointermove", (e) => {
    if (!from) return;
    const to = at(e),
      box = [Math.min(from[0], to[0]), Math.min(from[1], to[1]), Math.max(from[0], to[0]), Math.max(from[1], to[1])];
    $("bring-form").elements.crop.value = box[2] - box[0] > 2 && box[3] - box[1] > 2 ? box.join(",") : "";
    showCrop();
  });
  stage.addEventListener("pointerup", () => {
    from = null;
    preview();
  });
}

function showCrop() {
  const c = $("bring-form").elements.crop.value.split(",").map(Number),
    rect = $("bring-crop");
  const box = c.length === 4 ? c : [0, 0, 100, 100];
  rect.setAttribute("x", box[0]);
  rect.setAttribute("y", box[1]);
  rect.setAttribute("width", box[2] - box[0]);
  rect.setAttribute("height", box[3] - box[1]);
}
