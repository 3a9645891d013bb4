/* Drawing on the board. The form's fields hold the shape; this file fills them from the pointer and the keyboard, and draws them. */
(() => {
  "use strict";
  const form = document.querySelector("[data-board-form]");
  if (!form) return;
  const SVG = "http://www.w3.org/2000/svg";
  const map = () => document.querySelector("[data-board]");
  const unit = Number(map().dataset.unit);
  const field = (name) => form.elements.namedItem(name);
  const tool = () => form.querySelector("[name=shape]:checked")?.value ?? "rectangle";
  const says = (text) => {
    document.querySelector("[data-board-says]").textContent = text;
  };
  const number = (name) => Number(String(field(name).value).replace(",", "."));
  const written = (value) => String(Math.round(value * 100) / 100);
  let cursor = null; // where the keyboard's cross stands, in the form's unit
  let drag = null;
  let isDrawing = false; // corners are being set one after another

  /* Between the drawing's units and the fields' (metres or feet). */
  const frame = () => {
    const set = map().dataset;
    return {
      west: Number(set.west),
      north: Number(set.north),
      scale: Number(set.perMetre)
    };
  };
  const toField = (x, y) => {
    const f = frame();
    return [(x / f.scale + f.west) / unit, (f.north - y / f.scale) / unit];
  };
  const toDrawing = (x, y) => {
    const f = frame();
    return [(x * unit - f.west) * f.scale, (f.north - y * unit) * f.scale];
  };
  const placeOf = (event) => {
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(map().getScreenCTM().inverse());
    return snapped(toField(point.x, point.y));
  };

  function snapped([x, y]) {
    const near = 8 / frame().scale / unit;
    const corners = JSON.parse(document.getElementById("board-corners").textContent);
    for (const corner of corners) {
      const [cx, cy] = [corner[0] / unit, corner[1] / unit];
      if (Math.hypot(cx - x, cy - y) < near) return [cx, cy];
    }
    const step = Number(field("snap").value);
    return step ? [Math.round(x / step) * step, Math.round(y / step) * step] : [x, y];
  }

  const numberIn = (part) => Number(part.replace(",", "."));
  const linesOf = (text) => text.trim().split("\n").filter(Boolean);
  const corners = () => linesOf(field("points").value).map((line) => line.trim().split(/[\s;]+/).map(numberIn));
  const setCorners = (list) => {
    field("points").value = list.map(([x, y]) => `${written(x)} ${written(y)}`).join("\n");
  };
  const turned = (x, y, ox, oy, degrees) => {
    const a = degrees * Math.PI / 180;
    return [ox + (x - ox) * Math.cos(a) - (y - oy) * Math.sin(a), oy + (x - ox) * Math.sin(a) + (y - oy) * Math.cos(a)];
  };

  /* The outline of what the fields say, for the preview only: what is kept is measured by the server. */
  function outline() {
    const kind = tool();
    if (kind === "polygon" || kind === "cut") return corners();
    const [x, y] = [number("x"), number("y")];
    if (field("x").value === "") return [];
    if (kind === "circle" || kind === "spot") return Array.from({
      length: 48
    }, (_, i) => [x + number("radius") * Math.cos(i * Math.PI / 24), y + number("radius") * Math.sin(i * Math.PI / 24)]);
    const wide = kind === "rows" ? number("count") * number("spacing") : number("width");
    return [
      [x, y],
      [x + number("length"), y],
      [x + number("length"), y + wide],
      [x, y + wide]
    ].map(([px, py]) => turned(px, py, x, y, number("turn") || 0));
  }

  function handles() {
    const kind = tool();
    const shape = outline();
    if (!shape.length || shape.flat().some(Number.isNaN)) return [];
    if (kind === "polygon" || kind === "cut") return shape.map((place, index) => ({
      place,
      name: `corner ${index}`
    }));
    if (kind === "circle" || kind === "spot") return [{
      place: shape[0],
      name: "radius"
    }];
    return [{
      place: shape[2],
      name: "far"
    }];
  }

  function draw() {
    const layer = map().querySelector("[data-preview]");
    layer.replaceChildren();
    const add = (name, attributes) => {
      const made = document.createElementNS(SVG, name);
      for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, value);
      layer.append(made);
      return made;
    };
    const shape = outline();
    if (shape.length && !shape.flat().some(Number.isNaN)) {
      const closed = tool() !== "cut" && !(tool() === "polygon" && shape.length < 3);
      add("path", {
        d: `M${shape.map((place) => toDrawing(...place).join(" ")).join(" L")}${closed ? " Z" : ""}`,
        class: closed ? "map__new" : "map__cut"
      });
      for (const handle of handles()) {
        const [x, y] = toDrawing(...handle.place);
        add("rect", {
          x: x - 7,
          y: y - 7,
          width: 14,
          height: 14,
          class: "map__handle",
          "data-handle": handle.name
        });
      }
      if (closed) {
        const middle = shape.reduce(([sx, sy], [x, y]) => [sx + x / shape.length, sy + y / shape.length], [0, 0]);
        const [x, y] = toDrawing(...middle);
        add("circle", {
          cx: x,
          cy: y,
          r: 9,
          class: "map__handle",
          "data-handle": "move"
        });
      }
    }
    if (cursor) {
      const [x, y] = toDrawing(...cursor);
      add("path", {
        d: `M${x - 12} ${y}h24M${x} ${y - 12}v24`,
        class: "map__cross"
      });
    }
  }
  /* The server measures what the fields say. */
  const changed = () => {
    draw();
    field("x").dispatchEvent(new Event("change", {
      bubbles: true
    }));
  };

  function show() {
    const kind = tool();
    for (const part of form.querySelectorAll("[data-for]")) part.hidden = !part.dataset.for.split(" ").includes(kind);
    const isNew = !field("plot").value;
    for (const part of form.querySelectorAll(".for-new")) part.hidden = !(isNew && kind !== "cut") && kind !== "spot";
    form.querySelector("[name=kind]").closest("label").hidden = !isNew || kind === "spot" || kind === "cut";
    form.querySelector(".only-new").hidden = kind === "spot";
    draw();
  }

  /* One point set, by pointer or by Enter. */
  function set(place, isFirst) {
    const kind = tool();
    if (kind === "polygon" || kind === "cut") {
      setCorners(isFirst ? [place] : [...corners(), place]);
      return;
    }
    if (isFirst) {
      field("x").value = written(place[0]);
      field("y").value = written(place[1]);
      if (kind === "rectangle") field("turn").value = "0";
      return;
    }
    stretch(place);
  }
  /* The far corner, the end of the rows, or the rim. */
  function stretch([px, py]) {
    const kind = tool();
    const [x, y] = drag?.from ?? [number("x"), number("y")];
    if (kind === "circle" || kind === "spot") field("radius").value = written(Math.hypot(px - x, py - y));
    else if (kind === "rectangle") {
      const [ax, ay] = turned(px, py, x, y, -(number("turn") || 0));
      if (!number("turn")) {
        field("x").value = written(Math.min(x, px));
        field("y").value = written(Math.min(y, py));
      }
      field("length").value = written(Math.abs(ax - x));
      field("width").value = written(Math.abs(ay - y));
    } else if (kind === "rows" && drag?.handle === "far") {
      const [ax, ay] = turned(px, py, x, y, -(number("turn") || 0));
      field("length").value = written(Math.abs(ax - x));
      field("count").value = String(Math.max(1, Math.round(Math.abs(ay - y) / number("spacing"))));
    } else if (kind === "rows") {
      field("length").value = written(Math.hypot(px - x, py - y));
      field("turn").value = written(Math.atan2(py - y, px - x) * 180 / Math.PI);
    }
  }

  function move(dx, dy) {
    if (tool() === "polygon") setCorners(drag.corners.map(([x, y]) => [x + dx, y + dy]));
    else {
      field("x").value = written(drag.origin[0] + dx);
      field("y").value = written(drag.origin[1] + dy);
    }
  }

  document.addEventListener("pointerdown", (event) => {
    if (!event.target.closest?.("[data-board]") || event.button > 0) return;
    const handle = event.target.dataset.handle;
    const place = placeOf(event);
    if (handle) {
      drag = {
        handle,
        start: place,
        from: [number("x"), number("y")],
        corners: corners(),
        origin: [number("x"), number("y")]
      };
    } else if (tool() === "polygon" || tool() === "cut") {
      if (event.target.closest("[data-plot]") && !isDrawing && tool() === "polygon") return; // a click that chooses a plot
      set(place, !isDrawing);
      isDrawing = true;
      event.preventDefault();
      changed();
      return;
    } else {
      drag = {
        start: place,
        from: place,
        link: event.target.closest("[data-plot]")
      };
    }
    map().setPointerCapture(event.pointerId);
    event.preventDefault();
  });
  document.addEventListener("pointermove", (event) => {
    if (!drag) return;
    const place = placeOf(event);
    if (!drag.moved && Math.hypot(place[0] - drag.start[0], place[1] - drag.start[1]) * frame().scale * unit < 5) return;
    if (!drag.moved && !drag.handle) set(drag.start, true);
    drag.moved = true;
    if (drag.handle === "move") move(place[0] - drag.start[0], place[1] - drag.start[1]);
    else if (drag.handle?.startsWith("corner")) {
      const list = [...drag.corners];
      list[Number(drag.handle.split(" ")[1])] = place;
      setCorners(list);
    } else stretch(place);
    draw();
  });
  document.addEventListener("pointerup", () => {
    if (!drag) return;
    const {
      moved,
      link,
      start
    } = drag;
    if (!moved && link) {
      drag = null;
      window.location.assign(link.getAttribute("href"));
      return;
    }
    if (!moved && tool() === "spot") set(start, true);
    drag = null;
    changed();
  });
  document.addEventListener("click", (event) => {
    if (event.target.closest("[data-board] a") && event.detail) event.preventDefault();
  });
  document.addEventListener("dblclick", (event) => {
    if (event.target.closest("[data-board]")) finish();
  });

  function finish() {
    if (isDrawing) {
      const list = corners();
      const last = list.at(-1),
        before = list.at(-2);
      if (before && Math.hypot(last[0] - before[0], last[1] - before[1]) < 1e-6) setCorners(list.slice(0, -1));
    }
    isDrawing = false;
    drag = null;
    changed();
  }

  const arrows = {
    ArrowLeft: [-1, 0],
    ArrowRight: [1, 0],
    ArrowUp: [0, 1],
    ArrowDown: [0, -1]
  };
  let fresh = true; // whether the next Enter begins a shape
  document.addEventListener("keydown", (event) => {
    if (event.target !== map()) return;
    const step = (Number(field("snap").value) || 0.5) * (event.shiftKey ? 10 : 1);
    if (arrows[event.key]) {
      cursor ??= snapped(toField(map().viewBox.baseVal.width / 2, map().viewBox.baseVal.height / 2));
      cursor = [cursor[0] + arrows[event.key][0] * step, cursor[1] + arrows[event.key][1] * step];
      says(`${written(cursor[0])} east, ${written(cursor[1])} north`);
      event.preventDefault();
      draw();
    } else if (event.key === "Enter" && cursor) {
      const many = tool() === "polygon" || tool() === "cut";
      const list = corners();
      if (many && isDrawing && list.length && Math.hypot(list.at(-1)[0] - cursor[0], list.at(-1)[1] - cursor[1]) < 1e-6) {
        finish();
        fresh = true;
        says("The shape is closed.");
      } else {
        set(cursor, many ? !isDrawing : fresh);
        isDrawing = many;
        fresh = many ? false : !fresh;
        changed();
      }
      event.preventDefault();
    } else if (event.key === "Backspace" && isDrawing) {
      setCorners(corners().slice(0, -1));
      changed();
      event.preventDefault();
    } else if (event.key === "Escape") {
      isDrawing = false;
      fresh = true;
      cursor = null;
      setCorners([]);
      changed();
    } else if ((event.ctrlKey || event.metaKey) && event.key === "z") {
      if (isDrawing) {
        setCorners(corners().slice(0, -1));
        changed();
      } else document.querySelector("[data-board-undo]")?.requestSubmit();
      event.preventDefault();
    } else if (event.key === "+" || event.key === "-") {
      document.querySelector(`[data-map-key="${event.key}"]`).click();
    }
  });

  form.addEventListener("input", draw);
  form.addEventListener("change", (event) => {
    if (event.target.name === "shape" || event.target.name === "plot") {
      isDrawing = false;
      fresh = true;
      show();
    }
  });
  document.addEventListener("htmx:afterSettle", (event) => {
    if (event.target.id === "board-map") draw();
  });
  show();
})();
