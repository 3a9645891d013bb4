/* Counts down to a moment, not by ticks: a locked phone or a reload loses nothing. */
(() => {
  "use strict";
  const timer = document.querySelector("[data-deadline]");
  if (!timer) return;
  const deadline = new Date(timer.dataset.deadline).getTime();
  const left = timer.querySelector("[data-timer-left]");
  const done = document.querySelector("[data-timer-done]");
  const title = document.title;
  let wasOver = Date.now() >= deadline;
  const show = () => {
    const seconds = Math.max(0, Math.ceil((deadline - Date.now()) / 1000));
    left.textContent = `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
    document.title = seconds ? `${left.textContent} · ${title}` : title;
    if (seconds) return;
    done.textContent = "The time is up: go on now.";
    timer.classList.add("timer--over");
    if (!wasOver) navigator.vibrate?.([300, 150, 300]);
    clearInterval(beat);
  };
  const beat = setInterval(show, 250);
  document.addEventListener("visibilitychange", show);
  show();
})();
