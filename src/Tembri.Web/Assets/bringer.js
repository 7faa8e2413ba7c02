import { SCRIPT, markUnsaved } from "./saver.js";

// Brings many charts: sends the files, shows what became of each as the server says it, and leaves off when asked.
export const bringer = () => ({
  working: false, done: 0, total: 1, words: "", stop: null, counts: null,
  async bring(event) {
    event.preventDefault();
    const form = event.target.closest("form");
    const data = new FormData(form);
    const files = data.getAll("files").filter(f => f.size > 0);
    if (files.length === 0) { this.words = "Choose at least one file first."; return; }
    data.delete("files");
    for (const file of files) data.append("files", file, file.webkitRelativePath || file.name);
    this.$refs.rows.replaceChildren();
    Object.assign(this, { working: true, done: 0, total: files.length, counts: { read: 0, doubtful: 0, refused: 0 }, words: "Sending…", stop: new AbortController() });
    markUnsaved(this, true);
    try {
      const response = await fetch(form.action, { method: "POST", body: data, headers: { ...SCRIPT, "X-Progress": "lines" }, signal: this.stop.signal });
      if (!response.ok || !response.headers.get("content-type")?.includes("ndjson")) throw new Error(await this.reason(response));
      await this.follow(response.body.pipeThrough(new TextDecoderStream()).getReader());
      this.words = `Done. ${this.summary()}`;
    } catch (error) {
      this.words = error.name === "AbortError" ? `Left off. ${this.summary()} What was read is kept.` : `${error.message || "The server did not answer."} ${this.summary()}`;
    }
    this.working = false;
    markUnsaved(this, false);
  },
  async reason(response) {
    if (response.status === 413) return "These files are more than 60 MB together; bring fewer at a time.";
    if (response.status === 401) return "You are signed out. Sign in in another tab, then press the button again; nothing is brought twice.";
    const said = await response.json().catch(() => ({}));
    return said.fault ?? said.detail ?? "The server cannot take files just now; try again in a moment.";
  },
  async follow(reader) {
    let rest = "";
    for (;;) {
      const { value, done } = await reader.read();
      const lines = (rest + (value ?? "")).split("\n");
      rest = lines.pop();
      for (const line of lines) this.take(JSON.parse(line));
      if (done) return;
    }
  },
  take(item) {
    if (item.total) { this.total = item.total; return; }
    this.done++;
    this.counts[item.result]++;
    this.words = `${this.done} of ${this.total}. ${this.summary()}`;
    const row = document.createElement("tr");
    const cell = (text, link) => {
      const td = row.insertCell();
      if (!link) { td.textContent = text; return td; }
      const a = document.createElement("a");
      a.href = link;
      a.textContent = text;
      td.append(a);
      return td;
    };
    cell(item.name);
    const result = cell("");
    const bold = document.createElement("b");
    bold.textContent = item.result;
    if (item.result === "refused") bold.className = "accent";
    result.append(bold);
    cell(item.said, item.songId ? `/songs/${item.songId}/chart` : null);
    // What needs the teacher's eye stands first.
    if (item.result === "read") this.$refs.rows.append(row);
    else this.$refs.rows.insertBefore(row, this.$refs.rows.children[this.counts.doubtful + this.counts.refused - 1] ?? null);
  },
  summary() {
    const c = this.counts;
    return c ? `${c.read} read, ${c.doubtful} doubtful, ${c.refused} refused.` : "";
  },
  cancel() { this.stop?.abort(); },
});
