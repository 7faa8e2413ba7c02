// Help lies over the page: Escape, or a press anywhere else, puts it away.
const away = () => { for (const help of document.querySelectorAll(".page-help[open]")) { help.open = false; help.querySelector("summary").focus(); } };

document.addEventListener("keydown", event => { if (event.key === "Escape") away(); });
document.addEventListener("pointerdown", event => { if (!event.target.closest(".page-help")) document.querySelectorAll(".page-help[open]").forEach(help => { help.open = false; }); });
