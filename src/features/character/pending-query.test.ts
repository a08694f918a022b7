import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { pendingQuery, settleQuery, subscribeToQuery, writeQuery } from './pending-query';

class FakeElement {
  constructor(private readonly isLink: boolean) {}
  closest(): FakeElement | null {
    return this.isLink ? this : null;
  }
}

/** A window with an address that can be written, and nothing else. */
function openPage(path: string, search = '') {
  const location = { pathname: path, search };
  const leave: (() => void)[] = [];
  let clicked: (event?: unknown) => void = () => undefined;
  const replaceState = vi.fn((_state: unknown, _title: string, address: string) => {
    location.search = address.startsWith('?') ? address : '';
  });
  vi.stubGlobal('window', {
    location,
    history: { replaceState },
    addEventListener: (name: string, listener: (event?: unknown) => void) => {
      if (name === 'click') clicked = listener;
      else leave.push(listener);
    },
  });
  vi.stubGlobal('Element', FakeElement);
  return {
    location,
    replaceState,
    leave: () => leave.splice(0).forEach((listener) => listener()),
    click: (isLink: boolean) => clicked({ target: new FakeElement(isLink) }),
  };
}

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  vi.runAllTimers();
  settleQuery();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe('a query on its way into the address', () => {
  it('is written before a link is followed, since a write on the way would call the router back', () => {
    const page = openPage('/a');
    writeQuery('view=side');
    page.click(false);
    expect(page.replaceState).not.toHaveBeenCalled();
    page.click(true);
    expect(page.replaceState).toHaveBeenCalledTimes(1);
  });

  it('counts at once, and is written once for a run of changes', () => {
    const page = openPage('/a');
    const heard = vi.fn();
    const stop = subscribeToQuery(heard);
    writeQuery('role=neck');
    writeQuery('role=head');
    expect(pendingQuery()).toBe('role=head');
    expect(heard).toHaveBeenCalledTimes(2);
    expect(page.replaceState).not.toHaveBeenCalled();
    vi.runAllTimers();
    expect(page.replaceState.mock.calls.map(([, , address]) => address)).toEqual(['?role=head']);
    stop();
  });

  it('holds until the router has taken the address over', () => {
    openPage('/a');
    writeQuery('role=head');
    settleQuery();
    expect(pendingQuery()).toBe('role=head');
    vi.runAllTimers();
    expect(pendingQuery()).toBe('role=head');
    settleQuery();
    expect(pendingQuery()).toBeNull();
  });

  it('outlives older addresses that the router takes over late, and is written again where they put it back', () => {
    const page = openPage('/a', '?role=neck');
    writeQuery('compare=otter');
    vi.advanceTimersByTime(200);
    // A navigation from before ends now, with its own address.
    page.location.search = '?role=neck';
    settleQuery('role=neck');
    expect(pendingQuery()).toBe('compare=otter');
    vi.advanceTimersByTime(1_100);
    expect(page.location.search).toBe('?compare=otter');
    settleQuery('compare=otter');
    expect(pendingQuery()).toBeNull();
    expect(page.replaceState).toHaveBeenCalledTimes(2);
  });

  it('is gone once another page has been seen, also for who comes back', () => {
    const page = openPage('/a');
    writeQuery('role=head');
    vi.advanceTimersByTime(200);
    page.location.pathname = '/b';
    settleQuery('');
    page.location.pathname = '/a';
    expect(pendingQuery()).toBeNull();
  });

  it('is dropped with the page it belongs to', () => {
    const page = openPage('/a');
    writeQuery('role=head');
    page.location.pathname = '/b';
    expect(pendingQuery()).toBeNull();
    vi.runAllTimers();
    expect(page.replaceState).not.toHaveBeenCalled();
  });

  it('writes nothing where the address says so already, and the bare path for no query', () => {
    const page = openPage('/a', '?role=head');
    writeQuery('role=head');
    vi.runAllTimers();
    expect(page.replaceState).not.toHaveBeenCalled();
    expect(pendingQuery()).toBeNull();
    writeQuery('');
    vi.runAllTimers();
    expect(page.replaceState.mock.calls.map(([, , address]) => address)).toEqual(['/a']);
  });

  it('is written before the page goes', () => {
    const page = openPage('/a');
    writeQuery('bone=3');
    page.leave();
    expect(page.replaceState).toHaveBeenCalledTimes(1);
  });
});
