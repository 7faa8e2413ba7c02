// Keys of the ladder: arrows walk the matrix, letters act on the cell that has the focus.
export const bench = () => ({
  key(event) {
    if (event.target.closest("input, textarea, select, dialog[open]") || event.ctrlKey || event.metaKey || event.altKey) return;
    const act = {
      ArrowLeft: () => this.walk(0, -1), ArrowRight: () => this.walk(0, 1),
      ArrowUp: () => this.walk(-1, 0), ArrowDown: () => this.walk(1, 0),
      PageUp: () => this.walk(-1, 0), PageDown: () => this.walk(1, 0),
      s: () => this.current()?.click(),
      l: () => this.lock(),
      w: () => this.current()?.closest("tr").querySelector("[data-why]")?.click(),
      Escape: () => document.querySelector("[data-close-bench]")?.click(),
      "?": () => this.help(),
    }[event.key];
    if (!act) return;
    if (event.key.startsWith("Arrow") && event.target.closest(".options, .neck")) return;
    event.preventDefault();
    act();
  },
  cells() { return [...document.querySelectorAll("[data-cell]")]; },
  current() { return document.activeElement?.closest("[data-cell]") ?? document.querySelector("[data-cell][aria-current]") ?? document.querySelector("tr.working [data-cell]") ?? this.cells()[0]; },
  walk(rows, columns) {
    const here = this.current();
    if (!here) return;
    if (!document.activeElement?.closest("[data-cell]")) { here.focus(); return; }
    const [row, column] = here.dataset.cell.split("-").map(Number);
    this.cells().find(c => c.dataset.cell === `${row + rows}-${column + columns}`)?.focus();
  },
  lock() {
    const open = document.querySelector("[data-lock]");
    if (open) open.click();
    else this.current()?.click();
  },
  help() { document.getElementById("keys-help")?.showModal(); },
  closeHelp() { document.getElementById("keys-help")?.close(); },
});
