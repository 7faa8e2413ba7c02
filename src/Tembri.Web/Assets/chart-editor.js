// The take-down page: keeps what was typed safe, and jumps from a doubt to its place in the text.
export const chartEditor = () => ({
  dirty: false,
  init() {
    window.addEventListener("beforeunload", event => { if (this.dirty) event.preventDefault(); });
    this.$root.addEventListener("click", event => {
      const doubt = event.target.closest("[data-line]");
      if (doubt) this.goTo(Number(doubt.dataset.line), Number(doubt.dataset.column));
    });
  },
  typed() { this.dirty = true; },
  saved() { this.dirty = false; },
  goTo(line, column) {
    const text = this.$refs.text;
    const lines = text.value.split("\n");
    const start = lines.slice(0, line - 1).reduce((sum, l) => sum + l.length + 1, 0) + column - 1;
    const rest = (lines[line - 1] ?? "").slice(column - 1);
    const length = (rest.match(/^[^\s|\]]+/) ?? [""])[0].length || 1;
    text.focus();
    text.setSelectionRange(start, start + length);
    text.scrollTop = Math.max(0, (line - 5) * parseFloat(getComputedStyle(text).lineHeight));
  },
});
