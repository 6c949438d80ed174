// Before the first paint: a stored choice of theme wins over the system's.
(() => {
  try {
    const choice = localStorage.getItem("ubrex.theme");
    if (choice === "light" || choice === "dark") document.documentElement.dataset.theme = choice;
  } catch {
    // Storage is switched off: the system's choice holds.
  }
})();
