// The sheet is printed as large as it fits: on one page where that leaves it readable, else on as few as it needs.

// What a page holds between its margins, in px of 1/96 inch; the margins are those of sheet-a4.css and sheet-letter.css.
const PAGES = { a4: { width: 695, height: 1031 }, letter: { width: 720, height: 960 } };
const SIZES = [1, 0.95, 0.9, 0.86, 0.82, 0.78];   // the smallest leaves words of 9 points
const SIZES_OF_MORE_PAGES = [1, 0.95, 0.9];
const USED = 0.96;                                 // of a page that is not the last; lines that do not fit go to the next
const MOST_PAGES = 20;

const sheet = document.querySelector(".sheet");
const body = sheet.querySelector(".sheet-body");

function fit() {
  const { width, height } = PAGES[sheet.dataset.paper];
  document.documentElement.classList.add("as-printed");
  sheet.style.width = `${width}px`;
  const heightAt = size => {
    body.style.zoom = size;
    return body.getBoundingClientRect().height;
  };
  const find = () => {
    for (let pages = 1; pages <= MOST_PAGES; pages++)
      for (const size of pages === 1 ? SIZES : SIZES_OF_MORE_PAGES)
        if (heightAt(size) <= height * ((pages - 1) * USED + 1) - 4) return size;
    return SIZES_OF_MORE_PAGES[0];
  };
  const size = find();
  body.style.zoom = "";
  sheet.style.width = "";
  document.documentElement.classList.remove("as-printed");
  body.style.setProperty("--fit", size);
}

document.fonts.ready.then(fit);
document.querySelector("[data-print]").addEventListener("click", () => window.print());
