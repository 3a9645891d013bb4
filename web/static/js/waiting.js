/* What is written at a job while there is no net waits on this device, is shown as waiting, and is sent once. */
(() => {
  "use strict";

  const person = document.body.dataset.person;
  const shelf = `iron-waiting-${person}`;
  const list = () => { try { return JSON.parse(window.localStorage.getItem(shelf)) ?? []; } catch { return []; } };
  const keep = (rows) => window.localStorage.setItem(shelf, JSON.stringify(rows));
  const token = () => JSON.parse(document.body.getAttribute("hx-headers"))["X-CSRFToken"];

  if ("serviceWorker" in navigator) navigator.serviceWorker.register("/jobs/sw.js", { scope: "/jobs/" }).catch(() => {});

  function show() {
    const place = document.querySelector("[data-waiting]");
    if (!place) return;
    const rows = list();
    place.hidden = rows.length === 0;
    place.querySelector("ul").replaceChildren(...rows.map((row) => {
      const line = document.createElement("li");
      line.textContent = `${row.title}${row.problem ? `: ${row.problem}` : ""}`;
      if (row.problem) {
        const link = document.createElement("a");
        link.href = row.address;
        link.textContent = " look at it";
        line.append(link);
      }
      return line;
    }));
  }

  /* "sent", "refused" (the server said no: it stays, with the reason) or "away" (no net: it waits). */
  async function send(row) {
    let answer;
    try {
      answer = await fetch(row.address, { method: "POST", headers: { Accept: "application/json", "X-CSRFToken": token() }, body: new URLSearchParams(row.fields), redirect: "error" });
    } catch { return "away"; }
    if (answer.ok) return "sent";
    row.problem = answer.status === 422 ? "something typed needs your attention" : `the server answered ${answer.status}`;
    return "refused";
  }

  let sending = false;
  async function sendAll() {
    if (sending || !navigator.onLine) return;
    sending = true;
    for (const row of list()) {
      const outcome = await send(row);
      if (outcome === "away") break;
      keep(list().flatMap((kept) => (kept.id !== row.id ? [kept] : outcome === "sent" ? [] : [row])));
    }
    sending = false;
    show();
    document.dispatchEvent(new CustomEvent("iron:sent"));
  }

  document.addEventListener("submit", async (event) => {
    const form = event.target.closest("form[data-waits]");
    if (form) {
      event.preventDefault();
      const fields = [...new FormData(form)].filter(([name]) => name !== "csrfmiddlewaretoken");
      const sentAs = fields.find(([name]) => name === "sent_as");
      const id = sentAs?.[1] || crypto.randomUUID();
      const row = { id, address: form.action || window.location.href, title: form.dataset.waits, fields: fields.map(([name, value]) => [name, name === "sent_as" ? id : value]) };
      if (form.elements.sent_as) form.elements.sent_as.value = id;
      if (navigator.onLine) {
        const outcome = await send({ ...row });
        if (outcome === "sent") { window.location.assign("/jobs/"); return; }
        if (outcome === "refused") { form.removeAttribute("data-waits"); form.submit(); return; }
      }
      keep([...list().filter((kept) => kept.id !== id), row]);
      const said = document.querySelector("[data-waits-said]");
      if (said) { said.hidden = false; said.focus(); }
      form.querySelector("button").disabled = true;
      show();
    }
    if (event.target.action?.endsWith("/sign-out/")) window.caches?.delete("iron-jobs");
  });

  window.addEventListener("online", sendAll);
  show();
  sendAll();
})();
