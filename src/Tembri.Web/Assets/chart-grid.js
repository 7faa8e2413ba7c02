// The drawn chart as a place to write: chords typed into bars, parts dragged in the form. Every change is an edit of the chart's text, so one undo serves all.
import { dragPart } from "./form-drag.js";
import { sayChanged } from "./page.js";
const CHORD = /\([^()]*\)|[^\s()]+/g;
const bars = () => [...document.querySelectorAll("#reading [data-bar]")];
const barAt = key => key && document.querySelector(`#reading [data-bar="${key}"]`);
const keyOf = (section, bar) => `${section}-${bar}`;

/** Chords of a bar's content with where they stand; meters, remarks and dots are none. */
const chordsOf = content => [...content.matchAll(CHORD)].filter(m => !/^(\(|[.·-]$|\d+\/\d+$)/.test(m[0])).map(m => ({ from: m.index, to: m.index + m[0].length }));

export class ChartGrid {
  cellAt = ""; cellWas = ""; cellFault = ""; gridAt = ""; focusAt = ""; barNext = ""; slotNext = -1;

  /** `text` is the ChartText, `root` the page's main element, `tell` says what is no fault of a bar. */
  constructor(text, root, tell) {
    const part = name => root.querySelector(`[data-part-of-page=${name}]`);
    Object.assign(this, { text, tell, reading: part("reading"), drawnSide: part("drawn"), cell: part("cell"), box: part("cell-text"), meter: part("cell-meter"), faultLine: part("cell-fault") });
    root.dataset.editing = "";
    root.addEventListener("click", event => {
      const bar = event.target.closest("#reading [data-bar]");
      if (bar) this.openCell(bar.dataset.bar);
      const act = event.target.closest("[data-act][type=submit]");
      if (act && act.dataset.act.startsWith("{")) { event.preventDefault(); this.actNow(JSON.parse(act.dataset.act)); }
    });
    root.addEventListener("keydown", event => {
      if (event.target.matches("#reading [data-bar]")) this.barKey(event);
      else if (event.key === "Enter" && event.target.matches("[data-section-name]")) { event.preventDefault(); this.actNow({ act: "section" }); }
    });
    root.addEventListener("pointerdown", event => { if (event.target.closest("[data-grip]")) dragPart(event, (part, to) => this.act({ act: "form", part, to }, {})); });
    this.cell.addEventListener("keydown", event => this.cellKey(event));
    this.cell.addEventListener("focusout", event => this.cellLeft(event));
    this.cell.addEventListener("click", event => this.cellPressed(event));
    this.meter.addEventListener("change", () => this.cellMeterChosen());
    window.addEventListener("resize", () => this.placeCell());
    text.addEventListener("read", event => this.draw(event.detail));
    this.drawn();
  }

  /** Puts a new reading in place of the old one; what has the focus has it again. */
  draw(html) {
    const active = this.reading.contains(document.activeElement) ? document.activeElement : null;
    this.focusAt = active?.dataset.bar ?? this.focusAt;
    const part = active?.closest("[data-form-part]")?.dataset.formPart;
    const was = active && { id: active.id, value: active.type === "text" ? active.value : null, find: part ? `[data-form-part="${part}"] [data-act="${active.dataset.act}"]` : null };
    this.reading.innerHTML = html;
    sayChanged([...this.reading.querySelectorAll("[data-found]")].map(h => h.textContent.trim()).join(", ") || "No doubts");
    const again = was && (was.id ? document.getElementById(was.id) : (this.focusPart ?? was.find) && this.reading.querySelector(this.focusPart ?? was.find));
    this.focusPart = null;
    if (again) {
      if (was.value !== null) again.value = was.value;
      again.focus({ preventScroll: true });
    }
    this.drawn();
  }

  /** After the chart was drawn anew: bars can be reached with keys, and the open one is found again. */
  drawn() {
    this.reading.querySelector("[data-try-example]")?.removeAttribute("hidden");
    const all = bars();
    // A drawing of an older text says nothing of a bar that is only being written.
    const stale = this.text.isEditing || this.reading.querySelector("[data-of]")?.dataset.of !== this.text.mark;
    if (!barAt(this.gridAt) && !stale) this.gridAt = all[0]?.dataset.bar ?? "";
    for (const bar of all) {
      bar.setAttribute("role", "button");
      bar.setAttribute("aria-label", `${bar.dataset.label}. Press to change`);
      bar.tabIndex = bar.dataset.bar === this.gridAt ? 0 : -1;
    }
    if (!this.cellAt) {
      if (this.barNext && barAt(this.barNext)) this.openCell(this.barNext);
      else if (barAt(this.focusAt) && document.activeElement === document.body) barAt(this.focusAt).focus();
      if (!stale) this.focusAt = "";
      return;
    }
    const bar = barAt(this.cellAt);
    if (!bar && stale) return;
    if (!bar) {
      // Its bar went; the one before takes its place.
      const [section, number] = this.cellAt.split("-").map(Number);
      const other = barAt(keyOf(section, number - 1)) ?? all.findLast(b => Number(b.dataset.bar.split("-")[0]) <= section);
      if (other) this.openCell(other.dataset.bar); else this.closeCell();
      return;
    }
    const box = this.box;
    if (!stale && (box.value === this.cellWas || this.slotNext >= 0)) this.fill(bar);
    // What comes and goes above (doubts) does not move the bar under the eye.
    const before = box.getBoundingClientRect().top;
    this.placeCell();
    window.scrollBy(0, box.getBoundingClientRect().top - before);
  }
  fill(bar) {
    const box = this.box;
    this.cellWas = box.value = bar.dataset.content;
    box.setAttribute("aria-label", bar.dataset.label);
    const slot = chordsOf(box.value)[this.slotNext];
    this.slotNext = -1;
    if (document.activeElement !== box) return;
    if (slot) box.setSelectionRange(slot.from, slot.to); else box.select();
  }
  placeCell() {
    const bar = barAt(this.cellAt);
    if (!bar) return;
    const side = this.drawnSide.getBoundingClientRect();
    const at = bar.getBoundingClientRect();
    const cell = this.cell;
    cell.style.setProperty("--cell", `${Math.min(Math.max(at.width, 150), side.width)}px`);
    cell.style.setProperty("--cell-x", `${Math.max(0, Math.min(at.left - side.left, side.width - 150))}px`);
    cell.style.top = `${at.top - side.top}px`;
  }

  openCell(key, typed) {
    const bar = barAt(key);
    this.cellAt = this.gridAt = key;
    this.barNext = "";
    this.sayFault("");
    const box = this.box;
    this.cellWas = bar?.dataset.content ?? "";
    box.setAttribute("aria-label", bar?.dataset.label ?? "a new bar");
    box.value = typed ?? this.cellWas;
    this.meter.value = "";
    for (const other of bars()) other.tabIndex = other.dataset.bar === key ? 0 : -1;
    // Shown here and now: a directive would show it later, and what is not shown takes no focus.
    this.cell.hidden = false;
    this.placeCell();
    box.focus({ preventScroll: true });
    if (typed) box.setSelectionRange(typed.length, typed.length); else box.select();
    this.cell.scrollIntoView({ block: "nearest" });
  }
  closeCell(focus) {
    const key = this.cellAt;
    this.cellAt = "";
    this.cell.hidden = true;
    if (!focus) return;
    this.focusAt = key;
    barAt(key)?.focus();
  }
  /** Writes the bar if it was changed. Answers how many bars it became, for going on from there. */
  commitCell() {
    const content = this.box.value;
    if (content.trim() === this.cellWas.trim()) return 1;
    this.cellWas = content;
    this.act({ act: "write", ...this.address(), content }, { at: this.cellAt, content });
    return Math.max(1, content.split("|").filter(b => b.trim()).length);
  }
  address() {
    const [section, bar] = this.cellAt.split("-");
    return { section, bar };
  }
  go(by) {
    const from = barAt(this.cellAt);
    const [section, number] = this.cellAt.split("-").map(Number);
    const isNew = from ? from.classList.contains("grid-new") : true;
    const wrote = this.box.value.trim() !== "";
    const count = this.commitCell();
    if (by > 0 && isNew && wrote) return this.openCell(keyOf(section, number + count), "");
    if (by > 0 && count > 1) return this.openCell(keyOf(section, number + count));
    // A bar that is not drawn yet follows the last one that is.
    if (!from) return by < 0 && number > 0 ? this.openCell(keyOf(section, number - 1)) : false;
    const all = bars();
    const to = all[all.indexOf(from) + by];
    if (!to) return false;
    this.openCell(to.dataset.bar);
    return true;
  }
  /** The bar in the row above or below, nearest by its middle. */
  upDown(from, by) {
    const here = from.getBoundingClientRect();
    const rows = bars().map(bar => ({ bar, at: bar.getBoundingClientRect() })).filter(b => by > 0 ? b.at.top > here.bottom - 4 : b.at.bottom < here.top + 4);
    if (rows.length === 0) return null;
    const edge = by > 0 ? Math.min(...rows.map(r => r.at.top)) : Math.max(...rows.map(r => r.at.top));
    const middle = here.left + here.width / 2;
    return rows.filter(r => Math.abs(r.at.top - edge) < 12).sort((a, b) => Math.abs(a.at.left + a.at.width / 2 - middle) - Math.abs(b.at.left + b.at.width / 2 - middle))[0].bar;
  }

  cellKey(event) {
    const box = this.box;
    if (event.key === "Escape") { event.preventDefault(); box.value = this.cellWas; this.closeCell(true); return; }
    const act = event.altKey && !event.ctrlKey && { KeyS: "split", KeyJ: "join", KeyN: "add", KeyX: "remove" }[event.code];
    if (act) { event.preventDefault(); event.stopPropagation(); this.cellAct(act); return; }
    if (event.target !== box || event.altKey) return;
    const unchanged = box.value === this.cellWas;
    if (event.ctrlKey || event.metaKey) {
      // Undo of what was typed here first, then of the chart.
      if (unchanged && ["z", "y", "Z"].includes(event.key)) { event.preventDefault(); event.stopPropagation(); if (event.key === "z") this.text.undo(); else this.text.redo(); }
      return;
    }
    const all = box.selectionStart === 0 && box.selectionEnd === box.value.length;
    const moves = {
      Enter: () => this.go(event.shiftKey ? -1 : 1),
      Tab: () => this.go(event.shiftKey ? -1 : 1),
      ArrowLeft: () => (all || box.selectionEnd === 0) && this.go(-1),
      ArrowRight: () => (all || box.selectionStart === box.value.length) && this.go(1),
      ArrowUp: () => this.goRow(-1),
      ArrowDown: () => this.goRow(1),
    };
    const moved = moves[event.key]?.();
    if (moved !== false && moved !== undefined || event.key === "Enter") event.preventDefault();
  }
  goRow(by) {
    const from = barAt(this.cellAt);
    const to = from && this.upDown(from, by);
    if (!to) return false;
    this.commitCell();
    this.openCell(to.dataset.bar);
    return true;
  }
  barKey(event) {
    const bar = event.target;
    const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    const all = bars();
    const to = step ? all[all.indexOf(bar) + step] : event.key === "ArrowUp" || event.key === "ArrowDown" ? this.upDown(bar, event.key === "ArrowUp" ? -1 : 1) : null;
    if (event.altKey || event.ctrlKey || event.metaKey) return;
    if (to) { event.preventDefault(); this.gridAt = to.dataset.bar; for (const other of all) other.tabIndex = other === to ? 0 : -1; to.focus(); }
    else if (["Enter", " ", "F2"].includes(event.key)) { event.preventDefault(); this.openCell(bar.dataset.bar); }
    else if (event.key === "Delete") { event.preventDefault(); this.openCell(bar.dataset.bar); this.cellAct("remove"); }
    else if (/^[A-Ga-gN<%/(0-9]$/.test(event.key)) { event.preventDefault(); this.openCell(bar.dataset.bar, event.key); }
  }
  cellLeft(event) {
    if (!this.cellAt || this.cell.contains(event.relatedTarget)) return;
    // Pressing another bar opens that one; elsewhere the bar is written and closed.
    this.commitCell();
    if (!this.cellFault) this.closeCell();
  }
  cellPressed(event) {
    const act = event.target.closest("[data-cell-act]");
    if (act) this.cellAct(act.dataset.cellAct);
  }
  cellMeterChosen() {
    if (this.meter.value) this.cellAct("meter", { meter: this.meter.value });
    this.meter.value = "";
  }
  cellAct(act, more = {}) {
    const box = this.box;
    const slot = Math.max(0, chordsOf(box.value).filter(c => c.from <= box.selectionStart).length - 1);
    const content = box.value;
    if (act === "add" || act === "remove") {
      if (act === "add") this.commitCell();
      const { section, bar } = this.address();
      box.value = this.cellWas;
      this.act({ act, section, bar }, { at: this.cellAt });
      if (act === "add") this.openCell(keyOf(section, Number(bar) + 1));
    } else {
      // Splitting leaves the new chord marked, to be typed over.
      this.act({ act, ...this.address(), slot, content, ...more }, { at: this.cellAt, content }, act === "split" ? slot + 1 : slot);
    }
    box.focus();
  }
  actNow(fields) {
    if (fields.act === "section") {
      fields.name = document.querySelector("[data-section-name]").value;
      const next = new Set(bars().map(b => b.dataset.bar.split("-")[0])).size;
      this.act(fields, {}).then(done => {
        if (!done) return;
        this.barNext = keyOf(next, 0);
        // Else the swap would give the focus back to the field of the name.
        document.activeElement?.blur();
      });
    } else this.act(fields, {});
  }

  sayFault(words) {
    this.cellFault = this.faultLine.textContent = words;
    this.faultLine.hidden = words === "";
  }

  /** Asks for a change of a bar or of the form; a refused one is said where it was made, and what was typed stays. Answers true when it was done. */
  async act(fields, back, slotNext = -1) {
    const result = await this.text.edit("Act", fields, () => { this.slotNext = slotNext; });
    if (result.done) return true;
    const fault = result.refused ? result.fault : `Not written yet: ${result.fault}. What you typed is still here; press Enter to try again.`;
    if (!back.at) { this.tell(fault, result.signedOut); return false; }
    if (this.cellAt !== back.at) this.openCell(back.at, back.content);
    this.cellWas = barAt(back.at)?.dataset.content ?? "";
    this.sayFault(fault);
    this.placeCell();
    return false;
  }
}
