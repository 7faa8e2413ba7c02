// Says how hard a new password is to guess while it is typed. The server judges it, by the rules it will be held against when it is sent.
const wait = 350;   // ms after the last key

for (const field of document.querySelectorAll("[data-strength]")) {
  const input = field.querySelector("input"), bars = field.querySelector(".strength"), words = field.querySelector("small");
  const usual = words.textContent;
  let timer = 0, asked = 0, question = null;

  const show = (text, step) => {
    words.textContent = text;
    bars.hidden = step === null;
    bars.dataset.step = step ?? "";
  };

  const ask = async () => {
    const mine = ++asked;
    question?.abort();
    if (!input.value) { show(usual, null); return; }
    question = new AbortController();
    try {
      const answer = await fetch("/account/strength", {
        method: "POST", signal: question.signal, body: new URLSearchParams({ password: input.value }), headers: { "X-Tembri-Token": input.form.querySelector("[name=__RequestVerificationToken]").value },
      });
      if (!answer.ok) throw new Error(String(answer.status));
      const { step, words: said } = await answer.json();
      // An answer to what was typed before says nothing about what stands there now.
      if (mine === asked) show(said, step);
    } catch {
      if (mine === asked) show(usual, null);
    }
  };

  input.addEventListener("input", () => { clearTimeout(timer); timer = setTimeout(ask, wait); });
  // Sent, it is judged with everything else; a question behind it has nobody to answer to.
  input.form.addEventListener("submit", () => { clearTimeout(timer); asked++; question?.abort(); });
}
