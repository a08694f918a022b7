'use client';

import { useState, type ReactNode } from 'react';
import { useLightOnPaper } from '../use-light-on-paper';
import { PrintedHead, type MapTitle } from './PrintedHead';

const ZOOMS = [1, 1.4, 2, 2.8] as const;

/** Room for the line map: larger and smaller, and alone on paper, under a title that says what it is of. */
export function MapFrame({ children, ...title }: MapTitle & { readonly children: ReactNode }) {
  useLightOnPaper();
  const [zoom, setZoom] = useState(0);
  return (
    <div className="print-map relative mx-auto max-w-[1400px]">
      <PrintedHead {...title} />
      <div className={zoom > 0 ? 'overflow-auto' : ''} style={{ maxHeight: '44vh' }}>
        <div style={{ width: `${ZOOMS[zoom] * 100}%` }}>{children}</div>
      </div>
      <div
        className="no-print absolute bottom-0 left-0 flex gap-0.5 text-[13px]"
        role="group"
        aria-label="Size of the map"
      >
        <button
          className="btn btn-ghost btn-xs"
          aria-label="Smaller map"
          disabled={zoom === 0}
          onClick={() => setZoom(zoom - 1)}
        >
          −
        </button>
        <button className="btn btn-ghost font-normal btn-xs" disabled={zoom === 0} onClick={() => setZoom(0)}>
          Fit
        </button>
        <button
          className="btn btn-ghost btn-xs"
          aria-label="Larger map"
          disabled={zoom === ZOOMS.length - 1}
          onClick={() => setZoom(zoom + 1)}
        >
          +
        </button>
      </div>
    </div>
  );
}
