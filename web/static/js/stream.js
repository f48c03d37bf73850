// Where pieces stand, as the server tells it: one line a browser, shared by all its pages, since a browser has only few
// lines to one place. As a shared worker it serves every page; where there is none, a page serves itself.

// Line holds one stream for all pieces that somebody listens to.
export class Line {
  constructor() {
    this.ears = new Map(); // by what listens, the piece and what is called with its mark
    this.source = null;
    this.open = ""; // the pieces that the stream is of
    this.known = new Map(); // by piece, its last mark
  }
  hear(who, piece, tell) {
    this.ears.set(who, { piece: String(piece), tell });
    const mark = this.known.get(String(piece));
    if (mark) tell(mark);
    this.renew();
  }
  leave(who) {
    this.ears.delete(who);
    if (!this.ears.size) this.renew();
  }
  renew() {
    const pieces = [...new Set([...this.ears.values()].map((e) => e.piece))].sort();
    const want = pieces.map((p) => `piece=${p}`).join("&");
    if (want === this.open && this.source?.readyState !== 2) return;
    this.source?.close();
    this.source = null;
    this.open = want;
    for (const piece of this.known.keys()) if (!pieces.includes(piece)) this.known.delete(piece);
    if (!want) return;
    const source = (this.source = new EventSource(`/events?${want}`));
    source.addEventListener("place", (e) => {
      const cut = e.data.indexOf(" "),
        piece = e.data.slice(0, cut),
        mark = e.data.slice(cut + 1);
      this.known.set(piece, mark);
      for (const ear of this.ears.values()) if (ear.piece === piece) ear.tell(mark);
    });
    source.addEventListener("error", () => {
      if (source.readyState === 2) setTimeout(() => this.source === source && this.renew(), 5000); // it was refused
    });
  }
}

// In the shared worker: a page says which piece it shows ({hear: 3}), and when it is no longer looked at ({leave: true}).
if (typeof SharedWorkerGlobalScope !== "undefined" && self instanceof SharedWorkerGlobalScope) {
  const line = new Line();
  self.addEventListener("connect", (e) => {
    const port = e.ports[0];
    port.onmessage = (m) => {
      if (m.data.hear) line.hear(port, m.data.hear, (mark) => port.postMessage(mark));
      else line.leave(port);
    };
  });
}

// listen calls tell with every mark of a piece, until what it gives is called.
let worker = null;
export function listen(piece, tell) {
  if (typeof SharedWorker === "undefined") {
    const line = new Line();
    line.hear(line, piece, tell);
    return () => line.leave(line);
  }
  worker ??= new SharedWorker(new URL("stream.js", import.meta.url), { type: "module", name: "vindel" });
  worker.port.onmessage = (m) => tell(m.data);
  worker.port.postMessage({ hear: piece });
  return () => worker.port.postMessage({ leave: true });
}
