// A card that was read from a picture: pressing a cell turns it, in the picture, in the list and in the text.
document.addEventListener("click", e => {
  const cell = e.target.closest("[data-cell]")?.dataset.cell;
  const text = document.getElementById("owned-text");
  if (!cell || !text) return;
  const [row, column] = cell.split(" ").map(Number);
  const rows = text.value.split("\n");
  while (rows.length && !rows.at(-1)) rows.pop();
  const y = rows.length - row;
  if (!rows[y]) return;
  const hole = rows[y][column - 1] !== "#";
  rows[y] = rows[y].slice(0, column - 1) + (hole ? "#" : ".") + rows[y].slice(column);
  text.value = rows.join("\n");
  for (const at of document.querySelectorAll(`[data-cell="${cell}"]`)) {
    at.classList.remove("is-doubt");
    if (at.matches("circle")) at.classList.toggle("is-hole", hole);
    const word = at.querySelector("b");
    if (word) {
      word.textContent = hole ? "hole" : "none";
      at.setAttribute("aria-pressed", hole);
    }
  }
});
