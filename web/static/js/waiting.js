/* What is written at a job while there is no net waits on this device, photo and all, is shown as waiting, and is sent once. */
(() => {
  "use strict";

  const person = document.body.dataset.person;
  const {
    worker,
    jobs
  } = document.currentScript.dataset; // the addresses of the script that keeps pages, and of the list of jobs
  const SIDE = 1600;
  const token = () => JSON.parse(document.body.getAttribute("hx-headers"))["X-CSRFToken"];

  if ("serviceWorker" in navigator) navigator.serviceWorker.register(worker, {
    scope: jobs
  }).catch(() => {});

  /* The shelf: a store of the browser that holds pictures too. Rows are {id, person, address, title, fields, problem}. */
  const shelf = new Promise((resolve, reject) => {
    const opening = window.indexedDB.open("iron-waiting", 1);
    opening.onupgradeneeded = () => opening.result.createObjectStore("rows", {
      keyPath: "id"
    });
    opening.onsuccess = () => resolve(opening.result);
    opening.onerror = () => reject(opening.error);
  });

  async function onShelf(mode, act) {
    const store = (await shelf).transaction("rows", mode).objectStore("rows");
    return new Promise((resolve, reject) => {
      const asked = act(store);
      asked.onsuccess = () => resolve(asked.result);
      asked.onerror = () => reject(asked.error);
    });
  }

  const list = async () => (await onShelf("readonly", (store) => store.getAll())).filter((row) => row.person === person);
  const keep = (row) => onShelf("readwrite", (store) => store.put(row));
  const drop = (row) => onShelf("readwrite", (store) => store.delete(row.id));

  async function show() {
    const place = document.querySelector("[data-waiting]");
    if (!place) return;
    const rows = await list();
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
    const body = new FormData();
    row.fields.forEach(([name, value]) => body.append(name, value, ...(value instanceof Blob ? ["photo.jpg"] : [])));
    let answer;
    try {
      answer = await fetch(row.address, {
        method: "POST",
        headers: {
          Accept: "application/json",
          "X-CSRFToken": token()
        },
        body,
        redirect: "error"
      });
    } catch {
      return "away";
    }
    if (answer.ok) return "sent";
    row.problem = answer.status === 422 ? "something typed needs your attention" : `the server answered ${answer.status}`;
    return "refused";
  }

  let sending = false;
  async function sendAll() {
    if (sending || !navigator.onLine) return;
    sending = true;
    try {
      for (const row of await list()) {
        const outcome = await send(row);
        if (outcome === "away") break;
        await (outcome === "sent" ? drop(row) : keep(row));
      }
    } finally {
      sending = false;
    }
    await show();
    document.dispatchEvent(new CustomEvent("iron:sent"));
  }

  /* A photo no larger than it will be kept, so that a weak net and a full phone can carry it; what cannot be drawn goes as it is. */
  async function small(file) {
    try {
      const picture = await createImageBitmap(file, {
        imageOrientation: "from-image"
      });
      const scale = Math.min(1, SIDE / Math.max(picture.width, picture.height));
      const canvas = document.createElement("canvas");
      [canvas.width, canvas.height] = [Math.round(picture.width * scale), Math.round(picture.height * scale)];
      canvas.getContext("2d").drawImage(picture, 0, 0, canvas.width, canvas.height);
      return await new Promise((resolve) => {
        canvas.toBlob((made) => resolve(made ?? file), "image/jpeg", 0.85);
      });
    } catch {
      return file;
    }
  }

  async function fieldsOf(form, id) {
    const found = [];
    for (const [name, value] of new FormData(form)) {
      if (name === "csrfmiddlewaretoken" || (value instanceof File && !value.size)) continue;
      found.push([name, name === "sent_as" ? id : value instanceof File ? await small(value) : value]);
    }
    return found;
  }

  async function take(form) {
    const id = form.elements.sent_as?.value || crypto.randomUUID();
    if (form.elements.sent_as) form.elements.sent_as.value = id;
    form.querySelector("button").disabled = true;
    const row = {
      id,
      person,
      address: form.action || window.location.href,
      title: form.dataset.waits,
      fields: await fieldsOf(form, id)
    };
    if (navigator.onLine) {
      const outcome = await send({
        ...row
      });
      if (outcome === "sent") {
        window.location.assign(jobs);
        return;
      }
      if (outcome === "refused") {
        form.removeAttribute("data-waits");
        form.submit();
        return;
      }
    }
    await keep(row);
    const said = document.querySelector("[data-waits-said]");
    if (said) {
      said.hidden = false;
      said.focus();
    }
    await show();
  }

  document.addEventListener("submit", (event) => {
    const form = event.target.closest("form[data-waits]");
    if (form) {
      event.preventDefault();
      take(form).catch(() => {
        form.removeAttribute("data-waits");
        form.submit();
      }); // no shelf on this device: the plain way
    }
  });

  /* The list, the sheet and every job of the next two weeks are kept while there is a net; the page says what is kept and since when. */
  async function keepAhead() {
    const said = document.querySelector("[data-kept-says]");
    if (!said || !window.caches) return;
    const kept = "iron-kept-at";
    if (navigator.onLine) {
      const shelved = await window.caches.open("iron-jobs");
      const ahead = [...document.querySelectorAll("a[data-keep]")].map((link) => link.href);
      const wanted = [...new Set([window.location.href, ...ahead])];
      const taken = await Promise.all(wanted.map((address) => shelved.add(address).then(() => true, () => false)));
      if (taken.some(Boolean)) {
        const count = Math.max(0, ahead.length - 1);
        localStorage.setItem(kept, JSON.stringify({ at: Date.now(), jobs: count }));
      }
    }
    const told = JSON.parse(localStorage.getItem(kept) ?? "null");
    if (!told) return;
    const minutes = Math.round((Date.now() - told.at) / 60000);
    const hours = Math.round(minutes / 60);
    const long = hours < 48 ? `${hours} hours ago` : `${Math.round(hours / 24)} days ago`;
    const old = minutes < 2 ? "just now" : minutes < 120 ? `${minutes} minutes ago` : long;
    const what = told.jobs === 1 ? "1 job" : `${told.jobs} jobs`;
    said.hidden = false;
    said.textContent = `Kept on this device for when there is no net: this list, the sheet and ${what} of the next two weeks, ${old}.`;
  }

  const wake = () => sendAll().catch(() => {}); // without a shelf nothing can wait
  window.addEventListener("online", wake);
  show().catch(() => {});
  keepAhead().catch(() => {});
  wake();
})();
