// The sheet is printed as large as it fits: on one page where that leaves it readable, else on as few as it needs.

// What a page holds between its margins, in px of 1/96 inch; the margins are those of sheet-*.css.
const PAGES = { a4: { width: 695, height: 1031 }, letter: { width: 720, height: 960 }, "a4-wide": { width: 1031, height: 695 } };
const SIZES = [1, 0.95, 0.9, 0.86, 0.82, 0.78];   // the smallest leaves words of 9 points
const SIZES_OF_MORE_PAGES = [1, 0.95, 0.9];
const USED = 0.96;                                 // of a page that is not the last; lines that do not fit go to the next
const MOST_PAGES = 20;

const sheet = document.querySelector(".sheet");
const body = sheet.querySelector(".sheet-body");
const nextFrame = () => new Promise(resolve => requestAnimationFrame(() => setTimeout(resolve)));

/** Tries sizes on a copy beside the page, one a frame, so that the page stays quick. */
async function fit() {
  const { width, height } = PAGES[sheet.dataset.paper];
  const copy = document.createElement("div");
  copy.className = "as-printed";
  copy.inert = true;
  copy.ariaHidden = "true";
  copy.style.width = `${width}px`;
  copy.append(sheet.cloneNode(true));
  for (const element of copy.querySelectorAll("[id]")) element.removeAttribute("id");
  document.body.append(copy);
  const text = copy.querySelector(".sheet-body");
  const heights = new Map();
  const heightAt = async size => {
    if (heights.has(size)) return heights.get(size);
    await nextFrame();
    text.style.zoom = size;
    heights.set(size, text.getBoundingClientRect().height);
    return heights.get(size);
  };
  let found = SIZES_OF_MORE_PAGES[0];
  search: for (let pages = 1; pages <= MOST_PAGES; pages++)
    for (const size of pages === 1 ? SIZES : SIZES_OF_MORE_PAGES)
      if (await heightAt(size) <= height * ((pages - 1) * USED + 1) - 4) { found = size; break search; }
  copy.remove();
  body.style.setProperty("--fit", found);
}

document.fonts.ready.then(fit);
document.querySelector("[data-print]").addEventListener("click", () => window.print());
