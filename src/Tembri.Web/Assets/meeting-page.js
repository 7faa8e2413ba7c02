// A first meeting: a clock for the counts, and a hand measured on the screen once a card has told how large a millimetre is.
const CARD = 85.6, STORED = "tembri-millimetre";   // mm: the width of a bank card (ISO/IEC 7810 ID-1)

for (const button of document.querySelectorAll("[data-time]")) {
  const seconds = Number(button.dataset.time);
  let timer = 0;
  button.addEventListener("click", () => {
    clearInterval(timer);
    const ends = performance.now() + seconds * 1000;
    const show = () => {
      const left = Math.ceil((ends - performance.now()) / 1000);
      button.textContent = left > 0 ? `${left} s left` : "Time is up; start again";
      if (left > 0) return;
      clearInterval(timer);
      button.form.elements.result.focus();
    };
    show();
    timer = setInterval(show, 200);
  });
}

const card = document.querySelector("[data-card]");
if (card) {
  const reach = document.querySelector("[data-reach]");
  const outline = document.querySelector("[data-card-outline]");
  const lines = document.querySelector("[data-reach-lines]");
  const show = () => {
    const pixels = Number(card.value) / CARD;
    outline.style.width = `${card.value}px`;
    outline.style.height = `${Number(card.value) * 53.98 / CARD}px`;
    lines.style.width = `${Number(reach.value) * pixels}px`;
    document.querySelector("[data-reach-words]").textContent = `${reach.value} mm`;
  };
  try { card.value = localStorage.getItem(STORED) ?? card.value; } catch { /* then it is set anew */ }
  card.addEventListener("input", () => {
    try { localStorage.setItem(STORED, card.value); } catch { /* then it is set anew the next time */ }
    show();
  });
  reach.addEventListener("input", show);
  document.querySelector("[data-reach-take]").addEventListener("click", () => { document.querySelector("[data-spread]").value = reach.value; document.querySelector("[data-spread]").focus(); });
  show();
}
