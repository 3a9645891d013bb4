/* What is typed while the server's answer is under way stays: only what depends on the choice changes. */
(() => {
  "use strict";

  const isTyped = (field) => field.name && field.name !== "csrfmiddlewaretoken" && field.type !== "hidden";
  const valueOf = (field) => (field.type === "checkbox" || field.type === "radio" ? field.checked : field.value);
  const fieldsIn = (part) => [...part.querySelectorAll("input, select, textarea")].filter(isTyped);
  const keyOf = (field) => (field.type === "radio" ? `${field.name}=${field.value}` : field.name);
  const valuesIn = (part) => new Map(fieldsIn(part).map((field) => [keyOf(field), valueOf(field)]));
  const sent = new WeakMap(); /* by request: what stood in the part when it was asked for */
  let changed = null; /* what was typed since, while the part is swapped */

  document.addEventListener("htmx:beforeSend", (event) => {
    if (event.target.closest("[data-keeps-typing]")) sent.set(event.detail.xhr, valuesIn(event.detail.target));
  });

  document.addEventListener("htmx:beforeSwap", (event) => {
    const before = sent.get(event.detail.xhr);
    if (!before) return;
    const now = [...valuesIn(event.detail.target)];
    const focused = event.detail.target.contains(document.activeElement) ? document.activeElement : null;
    changed = {
      values: new Map(now.filter(([key, value]) => before.get(key) !== value)),
      focus: focused && isTyped(focused) ? keyOf(focused) : null,
      caret: focused?.selectionStart ?? null,
      open: [...event.detail.target.querySelectorAll("details")].map((part) => part.open),
      place: event.detail.target.id,
    };
  });

  document.addEventListener("htmx:afterSwap", () => {
    if (!changed) return;
    const part = document.getElementById(changed.place);
    const kept = changed;
    changed = null;
    if (!part) return;
    part.querySelectorAll("details").forEach((details, place) => {
      if (kept.open[place]) details.open = true;
    });
    for (const field of fieldsIn(part)) {
      const key = keyOf(field);
      if (kept.values.has(key)) {
        const value = kept.values.get(key);
        if (typeof value === "boolean") field.checked = value;
        else if (field.tagName !== "SELECT" || [...field.options].some((option) => option.value === value)) field.value = value;
      }
      if (key !== kept.focus) continue;
      field.focus();
      if (kept.caret !== null && field.setSelectionRange && /^(text|search|tel|url|password)$/.test(field.type)) {
        field.setSelectionRange(kept.caret, kept.caret);
      }
    }
  });
})();
