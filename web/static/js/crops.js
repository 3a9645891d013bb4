/* A crop dragged to a plot, on the map or in the table, is tried there. Without this file every plot is a link that does the same. */
(() => {
  "use strict";
  const panel = document.getElementById("tried");
  if (!panel) return;
  const show = (address) => {
    window.htmx.ajax("GET", address, {
      target: panel,
      swap: "innerHTML"
    }).then(() => {
      panel.focus();
      panel.scrollIntoView({
        block: "nearest"
      });
    });
  };
  const plotAt = (event) => event.target.closest("[data-crop-targets] [data-plot]");
  const inHand = () => document.querySelector(".crop-chip[aria-current]")?.dataset.crop;

  document.addEventListener("dragstart", (event) => {
    const chip = event.target.closest?.("[data-crop]");
    if (chip) event.dataTransfer.setData("text/plain", chip.dataset.crop);
  });
  document.addEventListener("dragover", (event) => {
    const plot = plotAt(event);
    document.querySelectorAll(".is-under").forEach((row) => row.classList.toggle("is-under", row === plot));
    if (plot) {
      event.preventDefault();
      plot.classList.add("is-under");
    }
  });
  document.addEventListener("drop", (event) => {
    const plot = plotAt(event);
    document.querySelectorAll(".is-under").forEach((row) => row.classList.remove("is-under"));
    const crop = event.dataTransfer.getData("text/plain");
    if (!plot || !crop) return;
    event.preventDefault();
    const row = document.querySelector(`tr[data-plot="${plot.dataset.plot}"]`); // every plot of the map stands in the table too
    show(`${row.dataset.tryPage}?crop=${encodeURIComponent(crop)}`);
  });
  document.addEventListener("click", (event) => {
    if (event.ctrlKey || event.metaKey || event.shiftKey) return;
    const link = event.target.closest("[data-try], svg[data-crop-targets] a[data-plot]");
    if (!link || !inHand()) return;
    event.preventDefault();
    show(link.getAttribute("href"));
  });
})();
