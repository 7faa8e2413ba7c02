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
    // The whole symbol is selected, whichever of its letters is in doubt.
    const here = lines[line - 1] ?? "";
    const from = column - 1 - (here.slice(0, column - 1).match(/[^\s|[]*$/) ?? [""])[0].length;
    const start = lines.slice(0, line - 1).reduce((sum, l) => sum + l.length + 1, 0) + from;
    const length = (here.slice(from).match(/^[^\s|\]]+/) ?? [""])[0].length || 1;
    text.focus();
    text.setSelectionRange(start, start + length);
    text.scrollTop = Math.max(0, (line - 5) * parseFloat(getComputedStyle(text).lineHeight));
  },
});
