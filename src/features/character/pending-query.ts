/** Long enough that a run of arrow keys writes the address once, short enough that nobody copies an old one. */
const WRITE_AFTER_MS = 150;
/** An address that was put back by then, by a navigation that ended late, is written again. */
const LOOK_AGAIN_AFTER_MS = 1_000;
const MOST_WRITES = 4;

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
export const pendingQuery = (): string | null =>
  pending && pending.path === window.location.pathname ? pending.query : null;

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
  // An address that is written while the router is on its way to another page calls it back.
  window.addEventListener('click', flushBeforeLink, { capture: true });
  notify();
}

/**
 * To be called when the router has taken over an address: once that is the one that was written, it speaks for itself.
 * Until then the router may still take over older ones, which would undo the selection.
 * @param address query that the router has now.
 */
export function settleQuery(address: string = window.location.search.slice(1)): void {
  if (!pending?.isWritten) return;
  if (pending.path === window.location.pathname && pending.query !== address) return;
  pending = null;
  notify();
}

function flushBeforeLink({ target }: Event): void {
  if (target instanceof Element && target.closest('a[href]')) flush();
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
  write(pending, 1);
}

function write(wanted: Pending, count: number): void {
  window.history.replaceState(null, '', wanted.query ? `?${wanted.query}` : wanted.path);
  if (count >= MOST_WRITES) return;
  setTimeout(() => {
    const isPutBack =
      pending === wanted &&
      wanted.path === window.location.pathname &&
      wanted.query !== window.location.search.slice(1);
    if (isPutBack) write(wanted, count + 1);
  }, LOOK_AGAIN_AFTER_MS);
}

const notify = (): void => listeners.forEach((listener) => listener());
