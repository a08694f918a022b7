'use client';

import type { ReactNode } from 'react';
import { oneOf, useAddress, writeAddress } from '../character/use-address';

const TABS = ['motion', 'troubles', 'layers', 'carrying'] as const;
type Tab = (typeof TABS)[number];
const TEXT: Readonly<Record<Tab, string>> = {
  motion: 'Motion',
  troubles: 'Troubles',
  layers: 'Layers',
  carrying: 'Carrying',
};

interface DrillTabsProps {
  /** How many there are; null while they are not known. */
  readonly flags: number | null;
  readonly layers: number;
  readonly panels: Readonly<Record<Tab, ReactNode>>;
}

/** What there is to say and to set about the motion on the character, one sheet at a time. */
export function DrillTabs({ flags, layers, panels }: DrillTabsProps) {
  const tab = oneOf(TABS, useAddress().get('sheet'), 'motion');
  const counts: Readonly<Partial<Record<Tab, number | null>>> = { troubles: flags, layers };
  return (
    <div className="flex max-h-[62%] min-h-0 shrink-0 flex-col border-t border-base-300">
      <div
        role="tablist"
        aria-label="About the motion"
        className="flex shrink-0 gap-0.5 border-b border-base-300 px-2 text-[13px]"
      >
        {TABS.map((each) => (
          <button
            key={each}
            role="tab"
            aria-selected={tab === each}
            className={`-mb-px border-b-2 px-2 py-1 ${tab === each ? 'border-primary font-semibold text-primary' : 'quiet border-transparent hover:text-base-content'}`}
            onClick={() => writeAddress({ sheet: each === 'motion' ? null : each })}
          >
            {TEXT[each]}
            {(counts[each] ?? 0) > 0 && (
              <span className={`pl-1 ${each === 'troubles' ? 'font-semibold text-warning' : ''}`}>{counts[each]}</span>
            )}
          </button>
        ))}
      </div>
      <div className="min-h-0 overflow-auto">{panels[tab]}</div>
    </div>
  );
}
