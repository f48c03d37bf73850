// The marks of stitches, drawn from the table that paper uses too: lines from point to
// point and rings, in a cell that is 1 wide and 1 high.
import { d, add } from "./state.js";

let own = {},
  ordinary = {},
  ofYarns = [];
export const startSigns = ([a, b, c]) => {
  own = a;
  ordinary = b;
  ofYarns = c;
};

const light = "#fffdf8",
  ink = "#1d2624";
export const pen = (look) => (look.dark ? light : ink);

const pairs = (points) => points.flatMap((v, i) => (i % 2 ? [] : [[v, points[i + 1]]]));

// sign draws a cell's mark on a canvas; it keeps its shape in a tall band.
export function sign(ctx, look, x, y, w, h) {
  if (d.letters && look.letter && Math.min(w, h) >= 9) {
    ctx.fillStyle = pen(look);
    ctx.font = `600 ${Math.min(15, h * 0.72, w * 0.8)}px "Atkinson Next", sans-serif`;
    ctx.textAlign = "center";
    ctx.textBaseline = "middle";
    ctx.fillText(look.letter, x + w / 2, y + h / 2 + 0.5);
  }
  const marked = d.yarnMarks && look.letter && ofYarns[Math.max(0, d.s.yarns.indexOf(look.letter)) % ofYarns.length];
  const s = marked || (d.plainMarks && ordinary[look.stitch]) || own[look.stitch];
  if (!s) return;
  const tall = Math.min(h, w * 1.2),
    wide = Math.min(w, h * 1.3),
    left = x + (w - wide) / 2,
    top = y + (h - tall) / 2;
  ctx.strokeStyle = pen(look);
  ctx.lineWidth = 2.1;
  ctx.lineCap = "round";
  ctx.beginPath();
  for (const line of s.lines || [])
    pairs(line).forEach(([px, py], i) => ctx[i ? "lineTo" : "moveTo"](left + px * wide, top + py * tall));
  for (const [px, py, r] of s.rings || []) {
    const size = r * Math.min(wide, tall);
    ctx.moveTo(left + px * wide + size, top + py * tall);
    ctx.arc(left + px * wide, top + py * tall, size, 0, 7);
  }
  ctx.stroke();
}

// signOn draws a mark of the palette, 30 wide and high.
export function signOn(svg, look) {
  const s = own[look.stitch],
    style = { fill: "none", stroke: pen(look), "stroke-width": 2.6, "stroke-linecap": "round" };
  for (const line of s.lines || [])
    add(svg, "path", {
      ...style,
      d:
        "M" +
        pairs(line)
          .map(([x, y]) => `${x * 30} ${y * 30}`)
          .join("L"),
    });
  for (const [x, y, r] of s.rings || []) add(svg, "circle", { ...style, cx: x * 30, cy: y * 30, r: r * 30 });
}
