// Parts of the form, dragged by their grip.

/** A part of the form follows the pointer and stays where it is let go; then `moved` has its place and the one it goes to. */
export function dragPart(event, moved) {
  const row = event.target.closest("[data-part]");
  const rows = [...row.parentElement.querySelectorAll("[data-part]")];
  event.preventDefault();
  row.setAttribute("data-dragged", "");
  const target = y => {
    let to = rows.findIndex(r => y < r.getBoundingClientRect().top + r.getBoundingClientRect().height / 2);
    if (to < 0) to = rows.length;
    return to > rows.indexOf(row) ? to - 1 : to;
  };
  const show = move => {
    for (const r of rows) r.removeAttribute("data-drop");
    const to = target(move.clientY);
    if (to !== rows.indexOf(row)) rows[to].setAttribute("data-drop", to > rows.indexOf(row) ? "after" : "before");
  };
  const end = done => {
    for (const r of rows) r.removeAttribute("data-drop");
    row.removeAttribute("data-dragged");
    document.removeEventListener("pointermove", show);
    document.removeEventListener("pointerup", end);
    document.removeEventListener("pointercancel", end);
    const to = target(done.clientY);
    if (done.type === "pointerup" && to !== rows.indexOf(row)) moved(row.dataset.part, to);
  };
  document.addEventListener("pointermove", show);
  document.addEventListener("pointerup", end);
  document.addEventListener("pointercancel", end);
}
