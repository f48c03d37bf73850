// A closer look: a click on a face shows the stitches there, large enough to count.

const w = 44,
  h = 26;

export function startProve() {
  document.addEventListener("click", (e) => {
    const img = e.target.closest(".two-faces img");
    if (!img) return;
    const r = img.getBoundingClientRect(),
      d = img.dataset;
    // The picture keeps its proportion inside its box, at the left and in the middle of its height.
    const scale = Math.min(r.width / img.naturalWidth, r.height / img.naturalHeight);
    const x = ((e.clientX - r.left) / (img.naturalWidth * scale)) * d.wales;
    const y =
      (1 - (e.clientY - r.top - (r.height - img.naturalHeight * scale) / 2) / (img.naturalHeight * scale)) *
      d.courses;
    look(img, x, y);
  });
  document.addEventListener("keydown", (e) => {
    const step = { ArrowLeft: [-12, 0], ArrowRight: [12, 0], ArrowUp: [0, 8], ArrowDown: [0, -8] }[e.key],
      close = document.getElementById("closer");
    if (!step || !close || e.target.closest("input, select, textarea") || e.altKey || e.ctrlKey) return;
    e.preventDefault();
    const img = document.querySelector(`.two-faces img[data-face="${close.dataset.face}"]`);
    look(img, Number(close.dataset.x) + w / 2 + step[0], Number(close.dataset.y) + h / 2 + step[1]);
  });
}

function look(img, x, y) {
  const close = document.getElementById("closer"),
    d = img.dataset;
  const clamp = (v, most) => Math.max(0, Math.min(Math.round(v), Math.max(0, most)));
  const x0 = clamp(x - w / 2, d.wales - w),
    y0 = clamp(y - h / 2, d.courses - h);
  Object.assign(close.dataset, { face: d.face, x: x0, y: y0 });
  close.src = `${img.src.split("?")[0]}?x=${x0}&y=${y0}&w=${w}&h=${h}&v=${d.head}`;
  document.getElementById("closer-says").textContent =
    `${d.word}, stitches ${x0 + 1} to ${Math.min(x0 + w, d.wales)}, rows ${y0 + 1} to ${Math.min(y0 + h, d.courses)}`;
}
