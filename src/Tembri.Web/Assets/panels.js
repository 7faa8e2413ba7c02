// Panels that lie over the page close with Esc and with a press elsewhere, and give the focus back to what opened them.

const open = () => [...document.querySelectorAll("details.panel[open]")];

export function closePanels() {
  document.addEventListener("pointerdown", event => {
    for (const panel of open()) if (!panel.contains(event.target)) panel.open = false;
  });
  document.addEventListener("focusin", event => {
    for (const panel of open()) if (!panel.contains(event.target)) panel.open = false;
  });
  window.addEventListener("keydown", event => {
    if (event.key !== "Escape") return;
    const panel = open().at(-1);
    if (!panel) return;
    event.stopImmediatePropagation();
    panel.open = false;
    panel.querySelector("summary").focus();
  }, { capture: true });
}
