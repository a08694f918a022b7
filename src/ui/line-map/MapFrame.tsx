'use client';

import { useSyncExternalStore, useState, type ReactNode } from 'react';

const ZOOMS = [1, 1.4, 2, 2.8] as const;
const SEEN = 'yarvo-line-map-seen';

/** Room for the line map: larger and smaller, and what it is for those who see it for the first time. */
export function MapFrame({ children }: { children: ReactNode }) {
  const [zoom, setZoom] = useState(0);
  return (
    <div className="print-map relative mx-auto max-w-[1400px]">
      <div className={zoom > 0 ? 'overflow-auto' : ''} style={{ maxHeight: '44vh' }}>
        <div style={{ width: `${ZOOMS[zoom] * 100}%` }}>{children}</div>
      </div>
      <div className="no-print absolute bottom-0 left-0 flex gap-0.5 text-[13px]" role="group" aria-label="Size of the map">
        <button className="btn btn-ghost btn-xs" aria-label="Smaller map" disabled={zoom === 0} onClick={() => setZoom(zoom - 1)}>−</button>
        <button className="btn btn-ghost btn-xs font-normal" disabled={zoom === 0} onClick={() => setZoom(0)}>fit</button>
        <button className="btn btn-ghost btn-xs" aria-label="Larger map" disabled={zoom === ZOOMS.length - 1} onClick={() => setZoom(zoom + 1)}>+</button>
      </div>
      <FirstVisit />
    </div>
  );
}

const listeners = new Set<() => void>();
const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => { listeners.delete(listener); };
};

/** Browsers may forbid storage; then the note comes back on each visit and nothing else happens. */
function hasSeen(): boolean {
  try {
    return window.localStorage.getItem(SEEN) !== null;
  } catch {
    return false;
  }
}

function markSeen(): void {
  try {
    window.localStorage.setItem(SEEN, 'yes');
  } catch {
    return;
  }
  listeners.forEach((listener) => listener());
}

function FirstVisit() {
  const isSeen = useSyncExternalStore(subscribe, hasSeen, () => true);
  if (isSeen) return null;
  return (
    <aside aria-label="What the line map is" className="no-print absolute top-[36%] left-[1%] w-[19rem] -translate-y-1/2 rounded-box border border-primary/40 bg-base-100 p-2.5 text-[13px] shadow-sm">
      <p>This is the studio&rsquo;s body as a map: hips to head in the middle, the character&rsquo;s left limbs above, the right ones below. Each bar is a role that wants one bone of this rig; the list at the left holds the bones, the stage below shows them. Press <kbd className="font-mono">R</kbd> to go through what is in doubt, and <kbd className="font-mono">?</kbd> for all keys.</p>
      <button className="btn btn-primary btn-xs mt-1.5" onClick={markSeen}>Understood</button>
    </aside>
  );
}
