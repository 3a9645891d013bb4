/* Keys, drafts and small comforts. Every page works without this file. */
(() => {
  "use strict";

  const isTyping = (element) => element.closest("input, select, textarea, [contenteditable]") !== null;

  /* Enter moves down a column of values, as in a ledger; Shift+Enter moves up. */
  document.addEventListener("keydown", (event) => {
    const box = event.target.closest?.(".ledger__value");
    if (!box || event.key !== "Enter") return;
    event.preventDefault();
    const column = [...document.querySelectorAll(".ledger__value")];
    const next = column[column.indexOf(box) + (event.shiftKey ? -1 : 1)];
    if (next) {
      next.focus();
      next.select();
    } else if (!event.shiftKey) document.querySelector("form[data-draft] .btn-primary")?.focus();
  });

  /* `?` keys, `/` search, `g` and a letter to a room, `n` a new reading. */
  const pageOf = (key) => document.querySelector(`[data-go="${CSS.escape(key)}"]`)?.href;
  let waitsForRoom = false;
  document.addEventListener("keydown", (event) => {
    if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
    if (waitsForRoom) {
      waitsForRoom = false;
      go(pageOf(event.key));
      return;
    }
    if (event.key === "g") waitsForRoom = true;
    if (event.key === "n") go(document.querySelector("[data-new-reading]")?.href ?? document.body.dataset.newReadingPage);
    if (event.key === "/") {
      event.preventDefault();
      search();
    }
    if (event.key === "?") toggleKeys();
    if (event.key === "Escape") document.querySelector(".keys-here")?.remove();
  });

  function go(address) {
    if (address) window.location.assign(address);
  }

  function search() {
    const box = document.querySelector("[data-search]");
    if (!box) {
      const ground = pageOf("g");
      go(ground && `${ground}#search`);
      return;
    }
    box.closest("details")?.setAttribute("open", "");
    box.focus();
  }

  async function toggleKeys() {
    const shown = document.querySelector(".keys-here");
    if (shown) {
      shown.remove();
      return;
    }
    const answer = await fetch(document.querySelector("[data-keys]").href);
    const list = new DOMParser().parseFromString(await answer.text(), "text/html").querySelector(".keys");
    const aside = document.createElement("aside");
    aside.className = "keys-here";
    aside.setAttribute("aria-label", "Keys");
    aside.tabIndex = -1;
    aside.append(list);
    document.body.append(aside);
    aside.focus();
  }

  /* A working opens in place, and closes on the second click. */
  document.addEventListener("htmx:beforeRequest", (event) => {
    const opener = event.target.closest("[data-opener]");
    if (!opener) return;
    const place = document.querySelector(opener.getAttribute("hx-target"));
    const isOpen = opener.getAttribute("aria-expanded") === "true";
    opener.setAttribute("aria-expanded", String(!isOpen));
    opener.firstChild.textContent = isOpen ? "show the working" : "hide the working";
    if (isOpen) {
      event.preventDefault();
      place.replaceChildren();
    }
  });

  /* One button ticks all boxes of its form, or none. */
  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-tick-all]");
    if (!button) return;
    const boxes = [...button.closest("form").querySelectorAll("input[type=checkbox][name=" + button.dataset.tickAll + "]")];
    const all = boxes.some((box) => !box.checked);
    boxes.forEach((box) => {
      box.checked = all;
    });
  });

  document.querySelector("[data-print]")?.addEventListener("click", () => window.print());

  /* Whoever signs out leaves no kept page behind for the next person at this device. */
  document.querySelector("[data-sign-out]")?.addEventListener("submit", () => window.caches?.delete("iron-jobs"));

  /* Unsaved typing survives a reload: kept in this browser until the form has been sent and accepted. */
  const form = document.querySelector("form[data-draft]");
  const store = (() => {
    try {
      window.localStorage.setItem("iron-try", "1");
      return window.localStorage;
    } catch {
      return null;
    }
  })();
  if (!store) return;
  /* Whoever signs out leaves nothing typed behind for the next person at this screen. */
  document.querySelector("[data-sign-out]")?.addEventListener("submit", () => {
    Object.keys(store).filter((key) => key.startsWith("iron-")).forEach((key) => store.removeItem(key));
  });
  const sent = store.getItem("iron-sent");
  if (sent && form?.dataset.draft !== sent) {
    store.removeItem(`iron-draft-${sent}`);
  }
  store.removeItem("iron-sent");
  if (!form) return;
  const name = `iron-draft-${form.dataset.draft}`;
  const isTyped = (field) => field.name && field.name !== "csrfmiddlewaretoken" && field.type !== "hidden" && field.type !== "submit";
  const fields = () => [...form.elements].filter(isTyped);
  const kept = JSON.parse(store.getItem(name) ?? "null");
  const wasRefused = form.querySelector(".is-invalid, .ledger__error, .ledger__doubt") !== null;
  if (kept && !wasRefused) {
    for (const field of fields()) {
      if (!(field.name in kept)) continue;
      if (field.type === "checkbox") field.checked = kept[field.name];
      else if (field.type === "radio") field.checked = kept[field.name] === field.value;
      else field.value = kept[field.name];
    }
    const note = document.createElement("p");
    note.className = "said__one no-print";
    note.append("What you had typed here is back. ");
    const drop = document.createElement("button");
    drop.type = "button";
    drop.className = "btn btn-sm btn-outline-dark";
    drop.textContent = "Start afresh";
    drop.addEventListener("click", () => {
      store.removeItem(name);
      window.location.reload();
    });
    note.append(drop);
    form.before(note);
  }
  form.addEventListener("input", () => {
    const isKept = (field) => field.type !== "radio" || field.checked;
    const typed = fields().filter(isKept).map((field) => [field.name, field.type === "checkbox" ? field.checked : field.value]);
    store.setItem(name, JSON.stringify(Object.fromEntries(typed)));
  });
  form.addEventListener("submit", () => store.setItem("iron-sent", form.dataset.draft));
})();
