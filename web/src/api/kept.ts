/** The page, as it is kept for where there is no network. */
export const PAGE = "/index.html";

/** Where answers are kept that were seen, and the header that says when. */
export const ANSWERS = "ubrex-answers";
export const KEPT_AT = "Ubrex-Kept-At";

let keptAt: string | null = null;
const listeners = new Set<() => void>();

/** Note whether an answer is one that was kept, and since when. */
export function noteKept(response: Response) {
  const at = response.headers.get(KEPT_AT);
  if (at === keptAt) return;
  keptAt = at;
  for (const listener of listeners) listener();
}

/** When what is shown was kept; null where the workshop itself answers. */
export const lastKeptAt = () => keptAt;

export function onKept(listener: () => void) {
  listeners.add(listener);
  return () => {
    listeners.delete(listener);
  };
}

/**
 * Keep the page and what was seen on this device; `then` runs once answers are kept, and hears whether that just began.
 * Browsers do so on the machine itself, or by HTTPS.
 */
export function keepThePage(then: (began: boolean) => void) {
  const workers = navigator.serviceWorker;
  if (!import.meta.env.PROD || !workers) return;
  if (workers.controller) then(false);
  else workers.addEventListener("controllerchange", () => then(true), { once: true });
  workers.register("/sw.js").catch(() => undefined);
}

/** What was seen is forgotten on this device: somebody signed out. */
export function forgetWhatWasSeen() {
  void globalThis.caches?.delete(ANSWERS);
}
