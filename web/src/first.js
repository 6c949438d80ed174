// Runs before the first paint, while the page's own scripts are on their way.
(() => {
  let stored = () => null;
  try {
    const kept = localStorage;
    stored = (key) => kept.getItem(key);
  } catch {
    // Storage is switched off: the system's theme holds, and the workshop's first setup.
  }

  // A stored choice of theme wins over the system's.
  const choice = stored("ubrex.theme");
  if (choice === "light" || choice === "dark") document.documentElement.dataset.theme = choice;

  // What the first screen needs is asked for at once; src/api/client.ts takes the answers.
  const person = stored("ubrex.person");
  const asWho = person ? { "Ubrex-Person": person } : {};
  const answers = new Map();
  const ask = (path, headers = {}) => {
    const asked = fetch(path, { headers });
    answers.set(path, asked);
    return asked;
  };
  const bench = async (workshop) => {
    const { first_setup_id: first } =
      workshop.ok && location.pathname === "/" ? await workshop.clone().json() : {};
    if (first) await ask(`/api/v1/setups/${Number(stored("ubrex.setup")) || first}/bench`, asWho);
  };
  const here = [ask("/api/v1/session"), ask("/api/v1/workshop").then(bench)];
  window.ubrexEarly = { answers, here: Promise.allSettled(here) };
})();
