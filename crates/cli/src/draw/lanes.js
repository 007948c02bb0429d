"use strict";
// Draws lanes in time, and lets one look around in them. `feed` gives what is drawn.
let run = { from: 0, to: 1, pauses: [], schemes: [], rows: [] }, rows = run.rows;
const canvas = document.getElementById("lanes");
const pen = canvas.getContext("2d");
const tip = document.getElementById("tip");
const readout = document.getElementById("readout");
const RULER = 44, PAD = 16;
const clamp = (v, a, b) => Math.min(b, Math.max(a, v));
let from = run.from, to = run.to, cursor = null, chosen = 0, drag = null;
let left = 160, width = 0, height = 0, colors = {};

let grow = 1, beside = 190;
const leastOf = row => row.kind === "map" || row.kind === "device" ? 20 : row.curves ? (row.kind === "control" ? 44 : 84)
  : row.kind === "control" ? 20 : 36;
const heightOf = row => leastOf(row) * (row.kind === "action" ? grow : 1);
let y0 = RULER;
// Few actions take the room that there is.
function arrange() {
  const sum = list => list.reduce((all, row) => all + leastOf(row), 0);
  const actions = sum(rows.filter(row => row.kind === "action"));
  const room = innerHeight - beside - RULER - sum(rows.filter(row => row.kind !== "action"));
  grow = actions ? clamp(room / actions, 1, 2.2) : 1;
  y0 = RULER;
  for (const row of rows) { row.top = y0; y0 += heightOf(row); row.bottom = y0; row.scale = null; }
}
// Takes another run in, or more of the same: what was chosen stays so.
function feed(next) {
  const name = (rows[chosen] || {}).name, kind = (rows[chosen] || {}).kind;
  run = next; rows = run.rows;
  const same = rows.findIndex(row => row.name === name && row.kind === kind);
  chosen = same >= 0 ? same : Math.max(0, rows.findIndex(row => row.kind === "action"));
  from = run.from; to = run.to;
  arrange(); draw();
}

const x = t => left + (t - from) / (to - from) * (width - left - PAD);
const timeAt = px => from + (px - left) / (width - left - PAD) * (to - from);

// The last index whose time is at or before t; -1 before all.
function before(list, t, of) {
  let low = 0, high = list.length;
  while (low < high) { const mid = (low + high) >> 1; if (of(list[mid]) <= t) low = mid + 1; else high = mid; }
  return low - 1;
}

function show(a, b) {
  const whole = run.to - run.from, least = Math.max(whole / 1e6, 1e-4);
  const span = clamp(b - a, least, whole || 1);
  const start = clamp(a, run.from, Math.max(run.from, run.to - span));
  from = start; to = start + span; draw();
}
function zoom(by, at) { show(at - (at - from) * by, at + (to - at) * by); }

function fit(text, room) {
  if (pen.measureText(text).width <= room) return text;
  while (text && pen.measureText(text + "…").width > room) text = text.slice(0, -1);
  return text + "…";
}

function step() {
  const least = (to - from) / Math.max(1, (width - left - PAD) / 90);
  const power = 10 ** Math.floor(Math.log10(least));
  return [1, 2, 5, 10].map(f => f * power).find(s => s >= least * 0.999);
}

function draw() {
  const scale = window.devicePixelRatio || 1;
  width = canvas.clientWidth; height = y0 + 8;
  canvas.style.height = height + "px";
  canvas.width = Math.round(width * scale); canvas.height = Math.round(height * scale);
  pen.setTransform(scale, 0, 0, scale, 0, 0);
  const style = getComputedStyle(document.documentElement);
  for (const name of ["ink", "grey", "rule", "band", "back", "live", "pending", "lapse", "cursor"])
    colors[name] = style.getPropertyValue("--" + name).trim();
  pen.font = "600 12px system-ui, sans-serif";
  left = clamp(Math.max(...rows.map(row => pen.measureText(row.name).width), 80) + 62, 140, Math.min(360, width / 3));
  pen.fillStyle = colors.back; pen.fillRect(0, 0, width, height);
  const sel = rows[chosen];
  if (sel) { pen.fillStyle = colors.band; pen.fillRect(0, sel.top, width, sel.bottom - sel.top); }
  pen.save(); pen.beginPath(); pen.rect(left, 0, width - left - PAD + 1, height); pen.clip();
  pen.fillStyle = colors.band;
  for (const [a, b] of run.pauses) pen.fillRect(x(a), RULER, x(b) - x(a), height - RULER);
  rules(); rows.forEach(drawRow);
  if (cursor !== null) { line([[x(cursor), RULER], [x(cursor), height]], colors.cursor, 1.2); }
  pen.restore();
  // A mark at either end is whole.
  pen.save(); pen.beginPath(); pen.rect(left - 5, 0, width - left + 5, height); pen.clip();
  for (const row of rows) if (row.kind === "action") marks(row, row.top + 17);
  pen.restore();
  for (const row of rows) label(row);
  times(); schemes();
  tell();
}

function* ticks() {
  const s = step();
  for (let k = Math.ceil(from / s - 1e-9); k * s <= to + s * 1e-9; k++) yield k * s;
}
function rules() {
  for (const t of ticks()) line([[x(t), RULER - 5], [x(t), height]], colors.rule, 1);
}
function times() {
  const digits = Math.max(0, Math.ceil(-Math.log10(step()) - 1e-9));
  pen.font = "11.5px system-ui, sans-serif"; pen.textBaseline = "middle";
  pen.textAlign = "center"; pen.fillStyle = colors.grey;
  for (const t of ticks()) {
    if (t < -1e-9) continue;
    const text = t.toFixed(digits) + " s", half = pen.measureText(text).width / 2;
    pen.fillText(text, Math.min(x(t), width - half - 3), 12);
  }
}

// Which scheme is in use since when.
function schemes() {
  const list = run.schemes || [];
  pen.font = "600 11px system-ui, sans-serif"; pen.textBaseline = "middle"; pen.textAlign = "left";
  let free = -1e9;
  for (let i = Math.max(0, before(list, from, s => s[0])); i < list.length && list[i][0] <= to; i++) {
    const at = Math.max(x(list[i][0]), left), next = list[i + 1];
    if (at < free || (next && next[0] <= from)) continue;
    line([[at, RULER - 20], [at, RULER - 8]], colors.grey, 1.2);
    const text = fit(list[i][1], (next ? Math.min(x(next[0]), width - PAD) : width - PAD) - at - 10);
    pen.fillStyle = colors.ink; pen.fillText(text, at + 5, RULER - 14);
    free = at + pen.measureText(text).width + 12;
  }
}

function line(points, color, w) {
  pen.beginPath(); points.forEach(([a, b], i) => i ? pen.lineTo(a, b) : pen.moveTo(a, b));
  pen.strokeStyle = color; pen.lineWidth = w; pen.stroke();
}

function label(row) {
  pen.textAlign = "right"; pen.textBaseline = "middle";
  const strong = row.kind === "action", room = left - 58, mid = (row.top + row.bottom) / 2;
  const [map, name] = strong && row.name.includes(".") ? row.name.split(".") : [null, row.name];
  pen.font = (strong ? "600 12px" : "12px") + " system-ui, sans-serif";
  pen.fillStyle = strong ? colors.ink : colors.grey;
  const text = row.kind === "map" ? "map " + name : name;
  pen.fillText(fit(text, room), left - 46, map ? mid + 7 : mid);
  if (map) { pen.font = "10.5px system-ui, sans-serif"; pen.fillStyle = colors.grey; pen.fillText(fit(map, room), left - 46, mid - 7); }
  line([[0, row.bottom], [width, row.bottom]], colors.rule, 1);
  if (row.curves) {
    pen.font = "10px system-ui, sans-serif"; pen.fillStyle = colors.grey;
    const s = scaleOf(row);
    pen.fillText(short(s.most), left - 5, s.top + 4); pen.fillText(short(s.least), left - 5, s.bottom - 3);
  }
}
const short = v => String(Math.round(v * 100) / 100).replace("-", "−");

function scaleOf(row) {
  if (!row.scale) {
    let least = 0, most = 0;
    for (const curve of row.curves) for (const [, v] of curve.points) { least = Math.min(least, v); most = Math.max(most, v); }
    if (least === most) most = 1;
    // A level that was nearly reached is what one looks for.
    const down = (row.levels || [])[1];
    if (down > most && down <= 3 * most) most = down * 1.04;
    const top = row.kind === "action" ? row.top + 32 : row.top + 4;
    row.scale = { least, most, top, bottom: row.bottom - 5 };
    row.scale.y = v => row.scale.bottom - (v - least) / (most - least) * (row.scale.bottom - top);
  }
  return row.scale;
}

function bars(list, top, high, color, edge) {
  let at = null;
  const put = () => { if (at) { pen.fillStyle = color; pen.fillRect(at[0], top, Math.max(at[1] - at[0], 1), high);
    if (edge) { pen.strokeStyle = edge; pen.lineWidth = 0.8; pen.strokeRect(at[0], top, Math.max(at[1] - at[0], 1), high); } } };
  for (let i = Math.max(0, before(list, from, s => s[1])); i < list.length && list[i][0] <= to; i++) {
    const a = Math.max(x(list[i][0]), left - 2), b = Math.min(x(list[i][1]), width);
    if (b < left) continue;
    if (at && a - at[1] < 0.7) at[1] = Math.max(at[1], b); else { put(); at = [a, b]; }
  }
  put();
}

function drawRow(row) {
  if (row.kind === "map" || row.kind === "device") return bars(row.spans, row.top + 5, row.bottom - row.top - 10, colors.rule, colors.grey);
  if (row.kind === "control" && !row.curves) return bars(row.spans, row.top + 5, row.bottom - row.top - 10, colors.grey);
  if (row.kind === "action") {
    bars(row.pressed, row.top + 5, 3, colors.grey);
    const top = row.top + 10;
    bars(row.pending, top, 14, colors.pending, colors.live);
    bars(row.live, top, 14, colors.live);
  }
  if (row.curves) curves(row);
}

function curves(row) {
  const s = scaleOf(row), tones = [colors.live, colors.ink, colors.grey];
  if (s.least < 0 && s.most > 0) line([[left, s.y(0)], [width, s.y(0)]], colors.rule, 1);
  pen.setLineDash([3, 4]);
  for (const level of row.levels || []) if (level <= s.most && s.y(0) - s.y(level) > 4) line([[left, s.y(level)], [width, s.y(level)]], colors.grey, 0.8);
  pen.setLineDash([]);
  row.curves.forEach((curve, i) => {
    const list = curve.points, start = Math.max(0, before(list, from, p => p[0]));
    let last = list.length && list[start][0] <= from ? list[start][1] : 0, peak = null;
    pen.beginPath(); pen.moveTo(left, s.y(curve.moved ? 0 : last));
    for (let k = start; k < list.length && list[k][0] <= to; k++) {
      const [t, v] = list[k]; if (t < from) { last = v; continue; }
      const at = x(t);
      pen.lineTo(at, s.y(curve.moved ? 0 : last)); pen.lineTo(at, s.y(v)); if (curve.moved) pen.lineTo(at, s.y(0));
      if (!peak || Math.abs(v) > Math.abs(peak[1])) peak = [at, v];
      last = v;
    }
    pen.lineTo(width, s.y(curve.moved ? 0 : last));
    pen.strokeStyle = tones[i]; pen.lineWidth = i ? 1.1 : 1.7; pen.lineJoin = "round"; pen.stroke();
    if (curve.name && peak && peak[1] !== 0) {
      pen.font = "600 11px system-ui, sans-serif"; pen.textAlign = "left"; pen.textBaseline = "middle";
      const px = clamp(peak[0] + 5, left + 4, width - PAD - 12), py = clamp(s.y(peak[1]), s.top + 5, s.bottom - 5);
      pen.fillStyle = colors.back; pen.fillRect(px - 2, py - 6, 11, 12);
      pen.fillStyle = tones[i]; pen.fillText(curve.name, px, py);
    }
  });
}

function marks(row, y) {
  const list = row.events, start = Math.max(0, before(list, from - (to - from) * 0.01, e => e[0]));
  let free = -1e9, last = {}, seen = [];
  pen.font = "10.5px system-ui, sans-serif"; pen.textBaseline = "middle"; pen.textAlign = "left";
  const words = [];
  for (let i = start; i < list.length && list[i][0] <= to; i++) {
    const [t, kind, cause] = list[i], at = x(t);
    if (kind === "wake" || at - (last[kind] ?? -1e9) < 6) continue;
    last[kind] = at;
    seen.push([at, kind]);
    if (cause) words.push([at, cause, kind, i]);
  }
  const over = { rest: 0, lapse: 1, fire: 2 };
  seen.sort((a, b) => over[a[1]] - over[b[1]]);
  for (const [at, kind] of seen) {
    if (kind === "fire") { pen.fillStyle = colors.ink; shape(at, y, 4.6); }
    else if (kind === "rest") { pen.beginPath(); pen.arc(at, y, 3.6, 0, 7); pen.fillStyle = colors.back; pen.fill(); pen.strokeStyle = colors.ink; pen.lineWidth = 1.3; pen.stroke(); }
    else { line([[at - 4, y - 4], [at + 4, y + 4]], colors.lapse, 2.2); line([[at - 4, y + 4], [at + 4, y - 4]], colors.lapse, 2.2); }
  }
  for (const [at, cause, kind, i] of words) {
    const wide = pen.measureText(cause).width, next = list.slice(i + 1).find(e => e[0] > list[i][0]);
    if (at + 8 < free || (next && x(next[0]) < at + wide + 12)) continue;
    // At the right edge, before its mark.
    const first = at + 8 + wide > width ? at - 8 - wide : at + 8;
    if (first < free) continue;
    if (first < at) { pen.fillStyle = colors.back; pen.fillRect(first - 3, y - 7, wide + 6, 14); }
    pen.fillStyle = kind === "lapse" ? colors.lapse : colors.grey;
    pen.fillText(cause, first, y); free = Math.max(at, first + wide) + 6;
  }
}
function shape(a, b, r) {
  pen.beginPath(); pen.moveTo(a, b - r); pen.lineTo(a + r, b); pen.lineTo(a, b + r); pen.lineTo(a - r, b); pen.closePath();
  pen.fill(); pen.strokeStyle = colors.back; pen.lineWidth = 1; pen.stroke();
}

function inside(list, t) { const i = before(list, t, s => s[0]); return i >= 0 && (t < list[i][1] || t === list[i][0]) ? list[i] : null; }
const sec = t => (Math.round(t * 1e4) / 1e4) + " s";

// What a row is at a moment, in words.
function says(row, t) {
  const words = [];
  if (row.kind === "map") words.push(inside(row.spans, t) ? "open" : "closed");
  if (row.kind === "device") words.push(inside(row.spans, t) ? "there" : "unplugged");
  else if (row.kind === "control" && row.spans) words.push(inside(row.spans, t) ? "held" : "not held");
  else if (row.kind === "action") {
    const live = inside(row.live, t), pending = inside(row.pending, t);
    words.push(live ? "live since " + sec(live[0]) : pending ? "pending since " + sec(pending[0]) : "at rest");
  }
  if (row.curves) {
    const at = curve => {
      const i = before(curve.points, t, p => p[0]);
      return i < 0 || (curve.moved && curve.points[i][0] < t) ? 0 : curve.points[i][1];
    };
    const values = row.curves.map(curve => (curve.name ? curve.name + " " : "") + Math.round(at(curve) * 1e6) / 1e6);
    // A turn is an angle around an axis.
    if (row.around) {
      const axis = row.around.map(at);
      values[0] += " rad (" + Math.round(at(row.curves[0]) * 180 / Math.PI * 10) / 10 + "°)";
      if (axis.some(v => v)) values[0] += " around (" + axis.map(short).join(", ") + ")";
    }
    words.push(values.join(", "));
  }
  if (row.events) {
    const i = before(row.events, t + 1e-9, e => e[0]);
    if (i >= 0) { const [at, kind, cause] = row.events[i]; words.push("last: " + kind + (cause ? " (" + cause + ")" : "") + " at " + sec(at)); }
  }
  return words.join(" · ");
}
function tell() {
  if (!readout) return;
  if (cursor === null || !rows[chosen]) { readout.textContent = "Move the pointer over the lanes, or step with the arrow keys."; return; }
  readout.textContent = sec(cursor) + "  " + rows[chosen].name + "\n" + says(rows[chosen], cursor);
}

canvas.addEventListener("pointermove", event => {
  const box = canvas.getBoundingClientRect(), px = event.clientX - box.left, py = event.clientY - box.top;
  if (drag) { const by = (drag.px - px) / (width - left - PAD) * (drag.to - drag.from); show(drag.from + by, drag.to + by); return; }
  const at = rows.findIndex(row => py >= row.top && py < row.bottom);
  if (at < 0 || px < left) { tip.hidden = true; return; }
  chosen = at; cursor = clamp(timeAt(px), run.from, run.to); draw();
  tip.hidden = false; tip.textContent = sec(cursor) + "  " + rows[at].name + "\n" + says(rows[at], cursor);
  tip.style.left = Math.max(0, Math.min(px + 14, width - tip.offsetWidth - 8)) + "px";
  tip.style.top = Math.min(py + 16, height - tip.offsetHeight - 4) + "px";
});
canvas.addEventListener("pointerleave", () => { tip.hidden = true; });
canvas.addEventListener("pointerdown", event => {
  canvas.focus(); canvas.setPointerCapture(event.pointerId);
  drag = { px: event.clientX - canvas.getBoundingClientRect().left, from, to }; tip.hidden = true;
});
canvas.addEventListener("pointerup", () => { drag = null; });
canvas.addEventListener("wheel", event => {
  event.preventDefault();
  const px = event.clientX - canvas.getBoundingClientRect().left;
  if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) { const by = (event.deltaX || event.deltaY) / width * (to - from); show(from + by, to + by); }
  else zoom(Math.exp(event.deltaY * 0.0015), timeAt(Math.max(px, left)));
}, { passive: false });

function move(t) {
  cursor = clamp(t, run.from, run.to);
  if (cursor < from || cursor > to) { const span = to - from; show(cursor - span / 2, cursor + span / 2); } else draw();
}
function event(by) {
  const list = (rows[chosen] || {}).events || [], now = cursor ?? from;
  const next = by > 0 ? list.find(e => e[0] > now + 1e-9) : [...list].reverse().find(e => e[0] < now - 1e-9);
  if (next) move(next[0]);
}
canvas.addEventListener("keydown", e => {
  const middle = cursor ?? (from + to) / 2, pixel = (to - from) / (width - left - PAD);
  const keys = {
    ArrowLeft: () => e.shiftKey ? event(-1) : move((cursor ?? from) - pixel * 5),
    ArrowRight: () => e.shiftKey ? event(1) : move((cursor ?? from) + pixel * 5),
    ArrowUp: () => { chosen = Math.max(0, chosen - 1); cursor ??= from; draw(); },
    ArrowDown: () => { chosen = Math.min(rows.length - 1, chosen + 1); cursor ??= from; draw(); },
    Home: () => move(run.from), End: () => move(run.to),
    "+": () => zoom(0.6, middle), "=": () => zoom(0.6, middle), "-": () => zoom(1 / 0.6, middle),
    0: () => show(run.from, run.to), d: look,
  };
  if (keys[e.key] && !e.ctrlKey && !e.metaKey && !e.altKey) { e.preventDefault(); keys[e.key](); tip.hidden = true; }
});
function look() {
  const dark = matchMedia("(prefers-color-scheme: dark)").matches, root = document.documentElement;
  const now = root.dataset.look || (dark ? "dark" : "light");
  root.dataset.look = now === "dark" ? "light" : "dark"; draw();
}
const click = (id, does) => document.getElementById(id).addEventListener("click", does);
click("in", () => zoom(0.6, cursor ?? (from + to) / 2));
click("out", () => zoom(1 / 0.6, cursor ?? (from + to) / 2));
click("all", () => show(run.from, run.to));
click("look", look);
addEventListener("resize", () => { arrange(); draw(); });
matchMedia("(prefers-color-scheme: dark)").addEventListener("change", draw);
