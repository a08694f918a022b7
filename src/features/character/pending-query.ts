/** Long enough that a run of arrow keys writes the address once, short enough that nobody copies an old one. */
const WRITE_AFTER_MS = 150;

interface Pending {
  readonly path: string;
  readonly query: string;
  isWritten: boolean;
}

/**
 * What the address will say in a moment. Writing it makes the router go over the whole page, which would hold up the
 * selection that the write is about; so the page shows the selection first.
 */
let pending: Pending | null = null;
let timer: ReturnType<typeof setTimeout> | undefined;
const listeners = new Set<() => void>();

/** Query that is not in the address yet; null where the address is up to date or belongs to another page. */
export const pendingQuery = (): string | null => (pending && pending.path === window.location.pathname ? pending.query : null);

export function subscribeToQuery(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Takes a query at once and puts it into the address soon. */
export function writeQuery(query: string): void {
  pending = { path: window.location.pathname, query, isWritten: false };
  clearTimeout(timer);
  timer = setTimeout(flush, WRITE_AFTER_MS);
  window.addEventListener('pagehide', flush, { once: true });
  notify();
}

/** To be called when the router has taken over a new address: from then on the address speaks for itself. */
export function settleQuery(): void {
  if (!pending?.isWritten) return;
  pending = null;
  notify();
}

function flush(): void {
  clearTimeout(timer);
  if (!pending || pending.isWritten) return;
  const isLeft = pending.path !== window.location.pathname;
  // A page that was left takes its selection with it; an address that says so already needs no writing.
  if (isLeft || pending.query === window.location.search.slice(1)) {
    pending = null;
    notify();
    return;
  }
  pending.isWritten = true;
  window.history.replaceState(null, '', pending.query ? `?${pending.query}` : pending.path);
}

const notify = (): void => listeners.forEach((listener) => listener());
