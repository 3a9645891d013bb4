/* Cells pasted from a spreadsheet fill the grid to the right and downwards from the box they were pasted into. */
(() => {
  "use strict";

  const boxesOf = (line) => [...line.querySelectorAll("input:not([type=hidden]), select")];

  function put(box, text) {
    if (box.tagName !== "SELECT") box.value = text;
    else {
      const wanted = text.toLowerCase();
      const option = [...box.options].find((one) => [one.value.toLowerCase(), one.text.toLowerCase()].includes(wanted));
      if (option) box.value = option.value;
    }
    box.dispatchEvent(new Event("input", { bubbles: true }));
  }

  document.addEventListener("paste", (event) => {
    const grid = event.target.closest("[data-grid]");
    const text = event.clipboardData?.getData("text/plain").replace(/\r/g, "") ?? "";
    if (!grid || !/[\t\n]./.test(text)) return;
    event.preventDefault();
    const lines = [...grid.tBodies[0].rows];
    const first = lines.indexOf(event.target.closest("tr"));
    const column = boxesOf(lines[first]).indexOf(event.target);
    text.replace(/\n+$/, "").split("\n").forEach((row, down) => {
      const boxes = lines[first + down] ? boxesOf(lines[first + down]) : [];
      row.split("\t").forEach((cell, right) => boxes[column + right] && put(boxes[column + right], cell.trim()));
    });
  });
})();
