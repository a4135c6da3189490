// Keys and what happens when the connection drops. Everything works without this
// file; it makes the same forms quicker.
"use strict";

const one = (selector) => document.querySelector(selector);

const singleKeysOn = () => localStorage.getItem("single-keys") !== "off";

// point goes to the reading before or after the one in hand.
function point(step) {
  const cells = [...document.querySelectorAll(".points a.value")];
  const here = cells.findIndex((cell) => cell.classList.contains("here"));
  const next = cells[here + step];
  if (next) next.click();
}

function open(selector) {
  const details = one(selector);
  if (!details) return;
  details.open = true;
  details.querySelector("summary").focus();
}

const keys = {
  e: () => one("#text")?.focus(),
  j: () => point(1),
  k: () => point(-1),
  x: () => one("#moved")?.focus(),
  o: () => one("#turned")?.click(),
  u: () => open("#record"),
  a: () => open("#working"),
  g: () => takeShown(),
  G: () => takeShown(true),
  n: () => one(".next .do a")?.click(),
  "/": () => (one("#find") ? one("#find").focus() : one("#to-find")?.click()),
  "?": () => one("#keys").showModal(),
};

// A row is worked by keys of its own, marked data-press. At riveting speed a key
// comes before the last one is answered: it waits in line, and acts on the hole that
// is in hand then. What is refused empties the line.
let waiting = [];
let busy = false;

function press(key) {
  if (busy) {
    waiting.push(key); // what it does is known only when it is its turn
    return true;
  }
  const bad = one("#bad[open]");
  const target = (bad && one(`[data-press-bad="${CSS.escape(key)}"]`)) || one(`[data-press="${CSS.escape(key)}"]`);
  if (!target) return false;
  busy = target.closest("[hx-get], form[hx-post]") !== null && !target.matches("summary");
  target.click();
  if (target.matches("summary")) target.focus();
  return true;
}

function next(keepOn) {
  busy = false;
  if (!keepOn) waiting = [];
  while (waiting.length && !busy) press(waiting.shift());
}

document.addEventListener("keydown", (event) => {
  const typing = event.target.matches("input:not([type=checkbox], [type=radio]), select, textarea");
  if (event.key === "Escape" && typing) {
    event.target.blur();
    return;
  }
  if (typing || event.ctrlKey || event.metaKey || event.altKey || one("dialog[open]") || !singleKeysOn()) return;
  const tab = one(`.tabs [data-key="${CSS.escape(event.key)}"]`);
  if (tab) { // before any key of a sheet: a tab's letter never writes
    tab.click();
    return;
  }
  const activates = (event.key === " " || event.key === "Enter") && event.target.closest("a, button, summary, input");
  if (!activates && press(event.key)) {
    event.preventDefault();
    return;
  }
  if (keys[event.key]) {
    event.preventDefault();
    keys[event.key]();
  }
});

document.addEventListener("click", (event) => {
  if (event.target.closest("#show-keys")) one("#keys").showModal();
});

document.addEventListener("change", (event) => {
  if (event.target.id === "keys-on") localStorage.setItem("single-keys", event.target.checked ? "on" : "off");
});

document.addEventListener("DOMContentLoaded", () => {
  const box = one("#keys-on");
  if (box) box.checked = singleKeysOn();
  bringIntoView();
});

// The drawing is the form: where there is room, the field stands on it, at the place that is to be read, and the other
// places are pressed to go to them. Without this the field stands in the lane.
function placeField() {
  const board = one(".two.setup .board");
  const drawing = board?.querySelector("svg.drawing");
  if (!drawing) return;
  const cells = [...document.querySelectorAll(".points a.value")];
  for (const [i, balloon] of [...drawing.querySelectorAll("circle.balloon")].entries()) {
    const number = balloon.nextElementSibling?.textContent;
    const cell = cells.find((c) => new URL(c.href).searchParams.get("spot") === number);
    if (!cell || i >= cells.length) continue;
    balloon.onclick = () => balloon.dataset.pulled || cell.click();
    balloon.onpointerdown = (event) => pullPlace(event, balloon, drawing, i);
  }
  const entry = one("#entry");
  const here = drawing.querySelector("circle.balloon.now");
  if (!entry || !here || innerWidth <= 820) {
    backToLane(entry);
    return;
  }
  entry.classList.add("on-drawing");
  const [at, on, from] = [here, board, board.closest(".two")].map((e) => e.getBoundingClientRect());
  const [wide, high] = [entry.offsetWidth, entry.offsetHeight];
  const centre = at.left - on.left + (at.width - wide) / 2;
  const fits = (x, y) => [Math.max(8, Math.min(x, on.width - wide - 8)), Math.max(8, Math.min(y, drawing.getBoundingClientRect().bottom - on.top - high))];
  const places = [[centre, at.top - on.top - high - 8], [centre, at.bottom - on.top + 8], [at.right - on.left + 8, at.top - on.top - high / 2], [at.left - on.left - wide - 8, at.top - on.top - high / 2], [at.right - on.left + 8, at.top - on.top - high - 8], [at.right - on.left + 8, at.bottom - on.top + 8]].map(([x, y]) => fits(x, y));
  const others = [...drawing.querySelectorAll("circle.balloon, text")].map((e) => [e.getBoundingClientRect(), e === here ? 9 : e.matches(".balloon") ? 4 : 1]);
  const hidden = ([x, y]) => others.reduce((sum, [r, weight]) => sum + (r.right > on.left + x && r.left < on.left + x + wide && r.bottom > on.top + y && r.top < on.top + y + high ? weight : 0), 0);
  const [x, y] = places.reduce((best, place) => (hidden(place) < hidden(best) ? place : best));
  entry.style.left = `${on.left - from.left + x}px`;
  entry.style.top = `${on.top - from.top + y}px`;
}

// A place along a part is pulled to where it is: its field takes the figure, and says it when the hand lets go. Only where
// one length says where each of them lies, in the order of the drawing.
const lengthIn = (text) => {
  const [, whole = "0", over = "0", under = "1"] = text.trim().match(/^(\d+(?:[.,]\d+)?)?(?:[ -]?(\d+)\/(\d+))?$/) ?? [, "x"];
  return Number(whole.replace(",", ".")) + Number(over) / Number(under);
};

function pullPlace(event, balloon, drawing, number) {
  const fields = [...document.querySelectorAll(".size .places > span")].map((row) => row.querySelectorAll("input:not([aria-label$=' name'])"));
  const balloons = [...drawing.querySelectorAll("circle.balloon")];
  if (fields.length !== balloons.length || fields.length < 3 || fields.some((row) => row.length !== 1)) return;
  const at = fields.map(([field]) => lengthIn(field.value || field.placeholder));
  const on = balloons.map((b) => Number(b.getAttribute("cx")));
  const [first, last] = [0, on.length - 1];
  const each = (at[last] - at[first]) / (on[last] - on[first]);
  if (!Number.isFinite(each) || on.some((x, i) => Math.abs(at[first] + (x - on[first]) * each - at[i]) > Math.abs(2 * each))) return;
  const step = one("#unit-in:checked") || document.body.dataset.unit === "in" ? 0.125 : Math.abs(each) > 5 ? 10 : 1;
  const px = drawing.getScreenCTM().a;
  const from = event.clientX;
  const [[field]] = [fields[number]];
  delete balloon.dataset.pulled;
  balloon.setPointerCapture(event.pointerId);
  balloon.onpointermove = (e) => {
    const by = (e.clientX - from) / px;
    if (Math.abs(e.clientX - from) < 6 && !balloon.dataset.pulled) return;
    balloon.dataset.pulled = "yes";
    balloon.setAttribute("transform", `translate(${by} 0)`);
    field.value = String(Number((Math.round((at[number] + by * each) / step) * step).toFixed(3)));
  };
  balloon.onpointerup = balloon.onpointercancel = () => {
    balloon.onpointermove = balloon.onpointerup = balloon.onpointercancel = null;
    if (!balloon.dataset.pulled) return;
    for (const [other] of fields) other.value ||= other.placeholder; // else they would follow in proportion
    const folded = field.closest("details");
    if (folded) folded.open = true;
    field.dispatchEvent(new Event("change", { bubbles: true }));
  };
}

// A limit is a mark on the scale that is pulled: the fields beside it say the same in figures, and what is pulled goes
// into them. Where there are no such fields, nothing is pulled.
const limitField = (grip, end = grip.dataset.end) => one(`[name="0.${end}.${CSS.escape(grip.dataset.of)}"]`) ?? (one(".limit-beside [name=quantity]")?.value === grip.dataset.of ? one("#limit-" + end) : null);

function freeGrips() {
  for (const grip of document.querySelectorAll(".grip")) grip.classList.toggle("free", Boolean(limitField(grip)));
}

document.addEventListener("pointerdown", (event) => {
  const grip = event.target.closest?.(".grip.free");
  if (!grip) return;
  event.preventDefault();
  const svg = grip.ownerSVGElement;
  const on = (e) => e.clientX / svg.getScreenCTM().a;
  const [from, was, each] = [on(event), Number(grip.dataset.value), Number(grip.dataset.each)];
  grip.setPointerCapture(event.pointerId);
  grip.classList.add("pulled");
  const field = limitField(grip);
  for (const other of svg.querySelectorAll(".grip")) { // what is usual is said too, once one end is one's own
    const beside = limitField(other);
    if (beside && !beside.value) beside.value = other.dataset.value;
  }
  grip.onpointermove = (e) => {
    const by = on(e) - from;
    grip.setAttribute("transform", `translate(${by} 0)`);
    field.value = String(Number((was + by * each).toFixed(grip.dataset.decimals)));
  };
  grip.onpointerup = grip.onpointercancel = () => {
    grip.onpointermove = grip.onpointerup = grip.onpointercancel = null;
    grip.classList.remove("pulled");
    field.dispatchEvent(new Event("change", { bubbles: true }));
    field.closest(".limit-beside")?.querySelector("button").focus();
  };
});

// backToLane puts the field into the lane again: on a phone, or where the drawing is of before. In the page it stands
// there always, so that Tab goes from it to what is said with it.
function backToLane(entry) {
  if (!entry?.classList.contains("on-drawing")) return;
  entry.classList.remove("on-drawing");
  entry.removeAttribute("style");
}

// What is typed and not kept stays with its place, on this device and for the day, until it is kept: a closed tab
// loses nothing, and several places may be typed before the first is kept.
const dayOfDrafts = 12 * 3600 * 1000;
const readingAt = (form) => "reading " + form.dataset.draft;

function draftAt(key) {
  const kept = JSON.parse(localStorage.getItem(key) ?? "null");
  if (kept && Date.now() - kept.at < dayOfDrafts) return kept.text;
  if (kept) localStorage.removeItem(key);
  return "";
}

function drafts() {
  const form = one("form.reading[data-draft]");
  const field = one("#text");
  if (!form || !field) return;
  const kept = draftAt(readingAt(form));
  if (kept && !field.value && !one(".value.here b:not(.none)")) {
    field.value = kept;
    field.dispatchEvent(new Event("input", { bubbles: true }));
  }
  const check = form.dataset.draft.replace(/ \d+$/, "");
  for (const cell of document.querySelectorAll(".points a.value:not(.here)")) {
    const text = draftAt(`reading ${check} ${new URL(cell.href).searchParams.get("spot")}`);
    const empty = cell.querySelector("b.none");
    if (!text || !empty) continue;
    cell.classList.add("drafted");
    empty.textContent = text;
  }
}

document.addEventListener("input", (event) => {
  const form = event.target.form;
  if (event.target.id !== "text" || !event.isTrusted || !form?.dataset.draft) return;
  if (event.target.value) localStorage.setItem(readingAt(form), JSON.stringify({ text: event.target.value, at: Date.now() }));
  else localStorage.removeItem(readingAt(form));
});
let sentReading = "";
document.addEventListener("htmx:beforeRequest", (event) => {
  if (event.target.matches?.("form.reading[data-draft]")) sentReading = readingAt(event.target);
});
document.addEventListener("htmx:beforeSwap", (event) => {
  if (sentReading && event.detail.xhr.status < 400) localStorage.removeItem(sentReading);
  sentReading = "";
});

document.addEventListener("DOMContentLoaded", drafts);
document.addEventListener("DOMContentLoaded", placeField);
document.addEventListener("DOMContentLoaded", freeGrips);
document.addEventListener("htmx:afterSettle", freeGrips);
document.addEventListener("htmx:afterSettle", (event) => {
  if (event.detail.target?.id !== "sheet" && event.detail.elt?.id !== "sheet") return;
  drafts();
  placeField();
});
addEventListener("resize", placeField);

// The field in hand is what the hand is for: keep it in sight on a phone.
function bringIntoView() {
  const problem = one(".problem");
  if (problem) problem.scrollIntoView({ block: "nearest" });
}

for (const lost of ["htmx:sendError", "htmx:timeout", "htmx:responseError"]) {
  document.addEventListener(lost, (event) => {
    if (event.detail.elt.id === "text") return; // only the echo was missed
    if (lost !== "htmx:responseError" && keepWaiting(event.detail)) return;
    const notice = one("#lost");
    if (lost === "htmx:responseError") notice.textContent = saidBy(event.detail.xhr.responseText) || notice.dataset.error;
    notice.hidden = false;
    next(false);
  });
}
document.addEventListener("htmx:afterSettle", () => {
  one("#said").textContent = (one(".in-hand .problem") ?? one(".spoken"))?.textContent ?? "";
  next(!one(".problem"));
});
document.addEventListener("htmx:afterSwap", () => {
  const box = one("#keys-on");
  if (box) box.checked = singleKeysOn();
  bringIntoView();
});

// Lists grow by a row of fields; tiles are found by a word of theirs.
function furnish() {
  for (const more of document.querySelectorAll(".one-more")) more.hidden = false;
  for (const find of document.querySelectorAll(".find")) find.hidden = false;
}

document.addEventListener("click", (event) => {
  const more = event.target.closest(".one-more");
  if (!more) return;
  const rows = more.parentElement.querySelectorAll(".row-of-fields");
  const row = rows[rows.length - 1].cloneNode(true);
  for (const field of row.querySelectorAll("input")) {
    field.name = field.name.replace(/\.\d+\.(\w+)$/, `.${rows.length}.$1`);
    field.setAttribute("aria-label", field.getAttribute("aria-label").replace(/^(section )?\d+/, `$1${rows.length + 1}`));
    field.value = field.placeholder = "";
  }
  more.before(row);
  row.querySelector("input").focus();
});

document.addEventListener("input", (event) => {
  if (!event.target.matches("[data-find]")) return;
  const word = event.target.value.trim().toLowerCase();
  for (const tile of document.querySelectorAll(".tiles li")) tile.hidden = !tile.textContent.toLowerCase().includes(word);
});
document.addEventListener("DOMContentLoaded", furnish);
document.addEventListener("htmx:afterSwap", furnish);

// A place on a drawing is pointed at: the first click is the first hole, the next one the
// last. What is typed in the fields is the same.
let pointed = 0;
document.addEventListener("click", (event) => {
  const area = event.target.closest(".pointing .point-area");
  const form = one("form.lay");
  if (!area || !form) return;
  const svg = area.ownerSVGElement;
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  const d = Object.fromEntries(Object.entries(area.dataset).map(([name, value]) => [name, Number(value)]));
  const along = (at.x - d.left) / d.scale;
  const down = (at.y - d.top) / d.scale;
  const across = area.dataset.across === "true";
  const place = across ? [d.from0 + down, d.from1 + along] : [d.from0 + along, d.up < 0 ? d.to1 - down : d.from1 + down];
  const field = pointed % 2 === 0 ? "from" : "to";
  place.forEach((mm, i) => (form.querySelector(`[name="${field}.0.${i}"]`).value = form.dataset.unit === "in" ? `${(mm / 25.4).toFixed(2)} in` : `${Math.round(mm)} mm`));
  form.querySelector("[name=view]").value = { above: "from above", left: "from the left", ahead: "from ahead" }[area.dataset.view];
  pointed++;
  htmx.trigger(form, "placed");
});

// A layer that is picked goes into the first empty row of the layers.
document.addEventListener("click", (event) => {
  const pick = event.target.closest("[data-layer]");
  if (!pick) return;
  const rows = [...document.querySelectorAll("[data-rows=layers] .row-of-fields")];
  const row = rows.find((r) => r.querySelectorAll("input")[0].value === "");
  if (!row) return;
  pick.dataset.layer.split(";").forEach((text, i) => (row.querySelectorAll("input, select")[i].value = text));
  row.querySelectorAll("select")[1]?.focus();
  row.dispatchEvent(new Event("input", { bubbles: true }));
});

// A half-filled form is there tomorrow: what is typed is kept in this browser until it was
// taken.
const drafted = "form.long-form, form.lay, form.begin";
const draftOf = (form) => "draft " + location.pathname + location.search + " " + new URL(form.action).pathname;

document.addEventListener("input", (event) => {
  const form = event.target.closest(drafted);
  if (!form || form.method !== "post") return;
  const typed = [...form.elements].filter((e) => e.name && e.type !== "hidden" && e.type !== "file").map((e) => [e.name, e.type === "checkbox" || e.type === "radio" ? (e.checked ? e.value : null) : e.value, e.value]);
  localStorage.setItem(draftOf(form), JSON.stringify(typed));
});
document.addEventListener("submit", (event) => {
  if (event.target.matches(drafted)) sessionStorage.setItem("sent", JSON.stringify([location.pathname + location.search, draftOf(event.target)]));
});
document.addEventListener("DOMContentLoaded", () => {
  const sent = JSON.parse(sessionStorage.getItem("sent") ?? "null");
  sessionStorage.removeItem("sent");
  if (sent && !one(".problem")) localStorage.removeItem(sent[1]); // it was taken
  if (one(".problem")) return; // the page shows what was typed itself
  for (const form of document.querySelectorAll(drafted)) {
    const typed = JSON.parse(localStorage.getItem(draftOf(form)) ?? "null");
    if (!typed) continue;
    for (const [name, value, own] of typed) {
      const fields = [...form.elements].filter((e) => e.name === name && e.type !== "hidden");
      for (const e of fields) {
        if (e.type !== "checkbox" && e.type !== "radio") e.value = value;
        else if (e.value === own) e.checked = value !== null;
      }
    }
    const note = document.createElement("p");
    note.className = "quiet-line draft";
    note.setAttribute("role", "status");
    note.textContent = "As you left it. ";
    const away = document.createElement("button");
    away.type = "button";
    away.className = "plain";
    away.textContent = "Begin anew";
    away.addEventListener("click", () => (localStorage.removeItem(draftOf(form)), location.reload()));
    note.append(away);
    form.prepend(note);
  }
});

// Clocks that run say how long it still is; the moment itself stands there without this.
function tick() {
  for (const clock of document.querySelectorAll("[data-until]")) {
    const left = Math.round((new Date(clock.dateTime) - Date.now()) / 60000);
    const span = Math.abs(left) < 120 ? `${Math.abs(left)} min` : Math.abs(left) < 2880 ? `${Math.round(Math.abs(left) / 60)} h` : `${Math.round(Math.abs(left) / 1440)} days`;
    clock.dataset.left = left >= 0 ? `in ${span}` : `${span} ago`;
    clock.closest("li")?.classList.toggle("past", left < 0);
  }
}
document.addEventListener("DOMContentLoaded", tick);
document.addEventListener("htmx:afterSwap", tick);
setInterval(tick, 15000);

// An instrument that speaks is shown live, and its reading taken by a key once it is steady.
// What is typed goes on working beside it.
let lines = [];
let shown = null;

function watch(strip, instrument, at, show) {
  const source = new EventSource(`${strip.dataset.base}/instruments/${instrument}/live?${new URLSearchParams(at)}`);
  const value = strip.querySelector(".gauge-value");
  const says = strip.querySelector(".gauge-says");
  const tell = (s) => {
    value.textContent = s.shows;
    says.textContent = s.says;
    strip.classList.toggle("ready", s.ready);
    for (const button of strip.querySelectorAll("[data-take]")) button.disabled = !s.ready;
    show(s.ready ? s : null);
  };
  source.onmessage = (event) => tell(JSON.parse(event.data));
  source.onerror = () => tell({ ready: false, shows: "–", says: "the line to Orpine is cut; type what it shows" });
  lines.push(source);
}

function listen() {
  for (const line of lines) line.close();
  lines = [];
  shown = null;
  const strip = one("#gauge");
  const form = strip?.closest("form");
  if (form) {
    const id = form.elements.instrument.value;
    const felt = id !== "" && id === phoneLevel();
    strip.hidden = !felt && !strip.dataset.gauges.split(" ").includes(id);
    const value = (name) => form.elements[name]?.value ?? "";
    if (felt) feelStrip(strip, (s) => (shown = s));
    else if (!strip.hidden) watch(strip, id, { list: value("list"), point: value("point"), field: value("field"), turned: one("#turned")?.checked ? "true" : "" }, (s) => (shown = s));
  }
  for (const proof of [...document.querySelectorAll(".gauge[data-proof]")].slice(0, 4)) {
    let s = null;
    watch(proof, proof.dataset.proof, { point: "end for end", turned: proof.dataset.turned ?? "" }, (now) => (s = now));
    proof.onclick = (event) => {
      if (!event.target.closest("[data-take]") || !s) return;
      const turned = proof.dataset.turned === "true";
      proof.closest("section").querySelector(`form.test [name=${turned ? "turned" : "first"}]`).value = s.display;
      proof.dataset.turned = turned ? "" : "true";
      proof.querySelector(".gauge-ends").textContent = turned ? "Both are taken: prove the zero." : "Now turn it end for end on the same spot, and take it again.";
      listen();
    };
  }
}

function takeShown(stay) {
  const form = one("#gauge")?.closest("form");
  if (!form || !shown) return;
  form.elements.text.value = shown.value;
  form.elements.sent.value = shown.sent;
  const button = form.querySelector(stay ? "[name=stay]" : ".button.strong:not([data-take])");
  shown = null;
  button.click();
}

document.addEventListener("click", (event) => {
  const take = event.target.closest("#gauge [data-take]");
  if (take) takeShown(take.dataset.take === "stay");
});
document.addEventListener("input", (event) => {
  if (event.target.id === "text") event.target.form.elements.sent.value = ""; // typed, not sent
});
document.addEventListener("change", (event) => {
  if (event.target.name === "instrument" && one("#gauge")) listen();
});
document.addEventListener("DOMContentLoaded", listen);
document.addEventListener("htmx:afterSettle", (event) => {
  if (event.detail.target?.id === "sheet" || event.detail.elt?.id === "sheet") listen();
});
addEventListener("pagehide", () => lines.forEach((line) => line.close()));
