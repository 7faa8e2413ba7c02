// Keys of one letter do things on some pages. Who speaks to the computer, or presses keys by chance, can turn them off; the device remembers it.
const place = "tembri.letter-keys";
let on = true;
try { on = localStorage.getItem(place) !== "off"; } catch { /* a browser that keeps nothing: on, as always */ }

/** The key of an event as a name: a letter small, whatever Caps Lock says; empty for a letter while letters are off. */
export const keyOf = event => event.key.length > 1 ? event.key : on ? event.key.toLowerCase() : "";

/** Shows the switch as it stands. */
export const showLetterKeys = (root = document) => {
  for (const box of root.querySelectorAll("[data-letter-keys]")) {
    box.checked = on;
    box.closest("[hidden]")?.removeAttribute("hidden");
  }
};

document.addEventListener("change", event => {
  if (!event.target.matches("[data-letter-keys]")) return;
  on = event.target.checked;
  try { localStorage.setItem(place, on ? "on" : "off"); } catch { /* until the page is left, then */ }
  showLetterKeys();
});
if (document.readyState === "loading") document.addEventListener("DOMContentLoaded", () => showLetterKeys());
else showLetterKeys();
