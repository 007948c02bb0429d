// Hands at work: what a browser hears goes out, what came of it comes in. Nothing leaves this machine.
// Sources: W3C UI Events (code), Pointer Events, Pointer Lock and Gamepad (standard mapping).
const config = JSON.parse(document.getElementById("config").textContent);
const by = id => document.getElementById(id);
const field = by("field");
beside = 560;
let socket = null, isStill = false, tries = 0, queue = [];

// Everything that is told between two animation frames goes out in one message; its times are its own.
function report(device, control, value, t) {
  queue.push([device, control, value, t]);
  if (queue.length === 1) queueMicrotask(flush);
}
function flush() {
  if (queue.length && send({ reports: queue })) queue = [];
  else queue = queue.slice(-1000);
}
function send(message) {
  if (!socket || socket.readyState !== 1) return false;
  socket.send(JSON.stringify(message));
  return true;
}

function connect() {
  socket = new WebSocket("ws://" + location.host + "/" + document.body.dataset.socket + "/socket");
  socket.onopen = () => {
    tries = 0; by("lost").hidden = true;
    // The clock of this page, some times over: the quickest says best what it is.
    for (let k = 0; k < 5; k++) setTimeout(() => send({ clock: performance.now() }), k * 20);
    for (const one of there.values()) send({ comes: one });
    send({ choose: (rows[chosen] || {}).name || null });
  };
  socket.onmessage = message => {
    const told = JSON.parse(message.data);
    show_state(told);
    if (!told.run || (isStill && !told.back)) return;
    // Newest at the right, also before so much time has gone by.
    if (!isStill) { told.run.from = told.run.to - 10; cursor = null; }
    feed(told.run);
  };
  socket.onclose = () => {
    by("lost").hidden = false;
    setTimeout(connect, Math.min(250 * 2 ** tries++, 4000));
  };
}

const held = new Map(), there = new Map();
function comes(device, name) {
  if (there.has(device)) return;
  there.set(device, { device, class: device.split(":")[0], name });
  send({ comes: there.get(device) });
}
function goes(device) { if (there.delete(device)) send({ goes: device }); }

// Keys, inside the field only; the browser keeps those that it needs itself.
let escapes = 0;
const kept = event => event.metaKey || (event.ctrlKey && "wtnrl".includes(event.key.toLowerCase())) || event.key === "F5";
field.addEventListener("keydown", event => {
  if (kept(event)) return;
  if (event.code === "Escape") { if (event.timeStamp - escapes < 600) { field.blur(); return; } escapes = event.timeStamp; }
  event.preventDefault();
  if (event.repeat || !event.code) return;
  if (stands_in(event.code, 1, event.timeStamp)) return;
  comes("key:page", "the page's keyboard");
  held.set(event.code, true);
  report("key:page", "key." + event.code, 1, event.timeStamp);
});
field.addEventListener("keyup", event => {
  event.preventDefault();
  if (stands_in(event.code, 0, event.timeStamp)) return;
  if (held.delete(event.code)) report("key:page", "key." + event.code, 0, event.timeStamp);
});
function let_go(t) {
  for (const code of held.keys()) report("key:page", "key." + code, 0, t);
  held.clear();
  for (const control of down) report("mouse:page", control, 0, t);
  down.clear();
  for (const code of [...stood]) stands_in(code, 0, t);
}
const says_field = is => { by("field-says").textContent = is
  ? "Keys and pointer go to the actions. Escape gives the pointer back, twice leaves." : "Click here: keys and pointer go to the actions."; };
field.addEventListener("focus", () => says_field(true));
field.addEventListener("blur", () => says_field(false));
field.addEventListener("blur", event => { let_go(event.timeStamp); document.exitPointerLock?.(); });
document.addEventListener("visibilitychange", event => { if (document.hidden) let_go(event.timeStamp); });

// The pointer.
const BUTTONS = ["left", "middle", "right", "back", "forward"], down = new Set();
let finger = null;
const place = event => {
  const box = field.getBoundingClientRect();
  const share = (v, from, size) => Math.min(1, Math.max(0, (v - from) / size));
  return [share(event.clientX, box.left, box.width), share(event.clientY, box.top, box.height)];
};
field.addEventListener("pointerdown", event => {
  field.focus();
  if (event.pointerType === "touch") {
    if (finger) return;
    comes("touch:page", "the page's field");
    finger = { id: event.pointerId, at: place(event) };
    field.setPointerCapture(event.pointerId);
    report("touch:page", "touch.at", finger.at, event.timeStamp);
    report("touch:page", "touch.down", 1, event.timeStamp);
    return;
  }
  if (config.locks && document.pointerLockElement !== field) field.requestPointerLock?.();
  press(event);
});
function press(event) {
  comes("mouse:page", "the page's pointer");
  const control = "mouse." + (BUTTONS[event.button] || "left"), is = event.buttons & [1, 4, 2, 8, 16][event.button];
  if (is) down.add(control); else down.delete(control);
  report("mouse:page", control, is ? 1 : 0, event.timeStamp);
}
field.addEventListener("pointerup", event => {
  if (event.pointerType === "touch") return lift(event);
  press(event);
});
field.addEventListener("pointercancel", event => { if (event.pointerType === "touch") lift(event); else let_go(event.timeStamp); });
function lift(event) {
  if (!finger || finger.id !== event.pointerId) return;
  finger = null;
  report("touch:page", "touch.down", 0, event.timeStamp);
}
field.addEventListener("pointermove", event => {
  if (event.pointerType === "touch") {
    if (!finger || finger.id !== event.pointerId) return;
    const at = place(event), [x, y] = finger.at;
    finger.at = at;
    report("touch:page", "touch.at", at, event.timeStamp);
    report("touch:page", "touch.drag", [at[0] - x, at[1] - y], event.timeStamp);
    return;
  }
  // A chord is told as a movement with other buttons.
  if (event.button >= 0) return press(event);
  if (document.activeElement !== field) return;
  comes("mouse:page", "the page's pointer");
  if (event.movementX || event.movementY) report("mouse:page", "mouse.move", [event.movementX, event.movementY], event.timeStamp);
  if (document.pointerLockElement !== field) report("mouse:page", "mouse.at", place(event), event.timeStamp);
});
field.addEventListener("contextmenu", event => event.preventDefault());
field.addEventListener("wheel", event => {
  if (document.activeElement !== field) return;
  event.preventDefault();
  comes("mouse:page", "the page's pointer");
  const notch = [100, 3, 1][event.deltaMode];
  report("mouse:page", "mouse.wheel", [event.deltaX / notch, -event.deltaY / notch], event.timeStamp);
}, { passive: false });

// Pads: buttons and axes of the standard mapping, by their places.
const PLACES = ["south", "east", "west", "north", "left-shoulder", "right-shoulder", "left-trigger", "right-trigger", "select",
  "start", "left-stick.click", "right-stick.click", "dpad.up", "dpad.down", "dpad.left", "dpad.right", "mode"];
const pads = new Map();
function pad_of(pad) { return "pad:" + pad.index + ":" + pad.id; }
function poll_pads() {
  requestAnimationFrame(poll_pads);
  for (const pad of navigator.getGamepads?.() || []) if (pad && pad.connected) read_pad(pad);
}
function read_pad(pad) {
  const device = pad_of(pad);
  if (!pads.has(device)) {
    if (pad.mapping !== "standard") send({ says: "a pad does not say where its buttons are: its sticks are read as far as they are known" });
    pads.set(device, { stamp: -1, last: new Map() });
    comes(device, "a pad");
  }
  const own = pads.get(device);
  if (pad.timestamp && pad.timestamp === own.stamp) return;
  own.stamp = pad.timestamp;
  const t = pad.timestamp || performance.now();
  const tell = (control, value) => {
    const key = String(value);
    if (own.last.get(control) === key || (!own.last.has(control) && /^[0,]+$/.test(key))) return;
    own.last.set(control, key);
    report(device, "pad." + control, value, t);
  };
  if (pad.mapping === "standard") pad.buttons.forEach((button, i) => {
    if (PLACES[i]) tell(PLACES[i], PLACES[i].endsWith("trigger") ? button.value : button.pressed ? 1 : 0);
  });
  const stick = (control, x, y) => { if (pad.axes.length > y) tell(control, [pad.axes[x], pad.axes[y] ? -pad.axes[y] : 0]); };
  stick("left-stick", 0, 1);
  stick("right-stick", 2, 3);
}
addEventListener("gamepaddisconnected", event => { const device = pad_of(event.gamepad); pads.delete(device); goes(device); });

// A row of keys in place of a pad.
const ROW = { KeyW: ["left-stick", 1, 1], KeyS: ["left-stick", 1, -1], KeyA: ["left-stick", 0, -1], KeyD: ["left-stick", 0, 1],
  KeyI: ["right-stick", 1, 1], KeyK: ["right-stick", 1, -1], KeyJ: ["right-stick", 0, -1], KeyL: ["right-stick", 0, 1],
  Digit1: ["south"], Digit2: ["east"], Digit3: ["west"], Digit4: ["north"], KeyQ: ["left-shoulder"], KeyE: ["right-shoulder"],
  KeyZ: ["left-trigger"], KeyC: ["right-trigger"], KeyT: ["dpad.up"], KeyG: ["dpad.down"], KeyF: ["dpad.left"], KeyH: ["dpad.right"] };
const stood = new Set();
function stands_in(code, is, t) {
  const of = ROW[code];
  if (!of || !(by("row").checked || stood.has(code))) return false;
  comes("pad:page", "a row of keys");
  if (is) stood.add(code); else stood.delete(code);
  const [control, axis] = of;
  if (axis === undefined) { report("pad:page", "pad." + control, is, t); return true; }
  const at = [0, 0];
  for (const one of stood) { const [name, way, to] = ROW[one]; if (name === control && way !== undefined) at[way] += to; }
  const long = Math.max(1, Math.hypot(at[0], at[1]));
  report("pad:page", "pad." + control, [at[0] / long, at[1] / long], t);
  return true;
}
by("row").addEventListener("change", event => { by("row-says").hidden = !event.target.checked; let_go(event.timeStamp); if (!event.target.checked) goes("pad:page"); });

// The profile's own devices, on the screen.
function make(tag, text, of) { const one = document.createElement(tag); if (text) one.textContent = text; Object.assign(one, of || {}); return one; }
for (const device of config.devices) {
  const box = make("div", null, { className: "device" }), id = device.class + ":page";
  box.append(make("b", device.class));
  const use = () => comes(id, "on the page");
  for (const { name, kind } of device.controls) {
    const control = device.class + "." + name, named = make("span", null, { className: "named" });
    const tell = (value, event) => { use(); report(id, control, value, event.timeStamp); };
    if (kind === "button") {
      const push = make("button", name, { className: "push" });
      const set = (is, event) => { if (is === ("down" in push.dataset)) return; if (is) push.dataset.down = ""; else delete push.dataset.down; tell(is ? 1 : 0, event); };
      push.addEventListener("pointerdown", event => { push.setPointerCapture(event.pointerId); set(true, event); });
      for (const end of ["pointerup", "pointercancel", "blur"]) push.addEventListener(end, event => set(false, event));
      push.addEventListener("keydown", event => { if (event.code === "Space" || event.code === "Enter") { event.preventDefault(); set(true, event); } });
      push.addEventListener("keyup", event => { if (event.code === "Space" || event.code === "Enter") set(false, event); });
      box.append(push);
      continue;
    }
    if (kind === "stick") {
      const stick = make("div", null, { className: "stick", tabIndex: 0 }), knob = make("i"), keys = new Set();
      stick.setAttribute("role", "application"); stick.setAttribute("aria-label", control + ": arrow keys move it");
      const to = (x, y, event) => {
        const long = Math.max(1, Math.hypot(x, y)); x /= long; y /= long;
        knob.style.transform = "translate(" + x * 25 + "px," + -y * 25 + "px)";
        tell([x, y], event);
      };
      const point = event => { const box = stick.getBoundingClientRect(); to((event.clientX - box.left) / box.width * 2 - 1, 1 - (event.clientY - box.top) / box.height * 2, event); };
      let is = false;
      stick.addEventListener("pointerdown", event => { is = true; stick.setPointerCapture(event.pointerId); point(event); });
      stick.addEventListener("pointermove", event => { if (is) point(event); });
      for (const end of ["pointerup", "pointercancel"]) stick.addEventListener(end, event => { if (is) { is = false; to(0, 0, event); } });
      const arrows = event => {
        const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };
        if (!way[event.code]) return;
        event.preventDefault();
        if (event.repeat) return;
        if (event.type === "keydown") keys.add(event.code); else keys.delete(event.code);
        to(...[0, 1].map(axis => [...keys].reduce((sum, code) => sum + way[code][axis], 0)), event);
      };
      stick.addEventListener("keydown", arrows); stick.addEventListener("keyup", arrows);
      stick.addEventListener("blur", event => { if (keys.size) { keys.clear(); to(0, 0, event); } });
      stick.append(knob); named.append(stick, name); box.append(named);
      continue;
    }
    if (kind === "axis" || kind === "lever") {
      const slide = make("input", null, { type: "range", min: kind === "axis" ? -1 : 0, max: 1, step: 0.01, value: 0 });
      slide.setAttribute("aria-label", control);
      slide.addEventListener("input", event => tell(Number(slide.value), event));
      slide.addEventListener("dblclick", event => { slide.value = 0; tell(0, event); });
      named.append(slide, name); box.append(named);
    }
  }
  by("devices").append(box);
}

// What came of it.
function fill(list, all, make_one) {
  while (list.children.length > all.length) list.lastChild.remove();
  all.forEach((one, i) => { const own = list.children[i] || list.appendChild(make("li")); make_one(own, one); });
}
function show_state(told) {
  if (told.title) { document.querySelector("h1").textContent = told.title; document.title = told.title; }
  if (told.why !== undefined) by("why").textContent = told.why;
  if (told.around) { const all = by("around"); all.replaceChildren(...told.around.map(([text, strong]) => make("span", text, { className: strong ? "strong" : "" }))); }
  if (told.events) fill(by("events"), told.events, (own, [kind, text]) => { own.className = kind; own.textContent = text; });
  if (told.words) fill(by("words"), told.words, (own, text) => { own.textContent = text; });
  if (told.take !== undefined) { by("take").textContent = told.take ? "End the take" : "Begin a take"; by("take").setAttribute("aria-pressed", !!told.take); }
  if (told.maps) game("maps", told.maps, ([name, open]) => {
    const box = make("input", null, { type: "checkbox", checked: open });
    box.addEventListener("change", () => send({ map: name, open: box.checked }));
    return box;
  });
  if (told.numbers) game("numbers", told.numbers, ([name, value, least, most]) => {
    const box = make("input", null, { type: "number", value, step: "any" });
    if (least !== null) { box.min = least; box.max = most; }
    box.addEventListener("change", () => send({ number: name, value: Number(box.value) }));
    return box;
  });
}
const games = {};
function game(id, all, make_one) {
  const key = JSON.stringify(all);
  if (games[id] === key || by(id).contains(document.activeElement)) return;
  games[id] = key;
  const labels = all.map(one => { const label = make("label"); label.append(make_one(one), " " + one[0]); return label; });
  by(id).replaceChildren(by(id).firstElementChild, ...labels);
  by(id).hidden = !all.length;
}
click("still", () => {
  isStill = !isStill;
  by("still").textContent = isStill ? "Go on" : "Hold still"; by("still").setAttribute("aria-pressed", isStill);
  send({ still: isStill });
});
click("take", () => send({ take: true }));
canvas.addEventListener("pointerdown", () => send({ choose: (rows[chosen] || {}).name || null }));
canvas.addEventListener("keyup", () => send({ choose: (rows[chosen] || {}).name || null }));
connect();
poll_pads();
