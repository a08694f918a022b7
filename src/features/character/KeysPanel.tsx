'use client';

import { useState } from 'react';
import { Key } from '@/ui/Key';
import { KEYS } from './keys';

/** The keys of the screen one is on; stands beside the work, so that they can be tried. */
export function KeysPanel({ screen, onClose }: { screen: keyof typeof KEYS; onClose: () => void }) {
  const [wanted, setWanted] = useState('');
  const groups = KEYS[screen]
    .map((group) => ({
      ...group,
      entries: group.entries.filter(({ keys, text }) =>
        `${keys.join(' ')} ${text} ${group.title}`.toLowerCase().includes(wanted.trim().toLowerCase()),
      ),
    }))
    .filter((group) => group.entries.length > 0);
  return (
    <aside
      aria-label="Keys of this screen"
      className="fixed top-13 right-2 z-40 flex max-h-[80vh] w-96 flex-col rounded-box border border-base-300 bg-base-100 p-3 shadow-lg"
      onKeyDown={(event) => {
        if (event.key === 'Escape') {
          event.stopPropagation();
          onClose();
        }
      }}
    >
      <div className="flex items-center gap-2">
        <input
          autoFocus
          type="search"
          aria-label="Find a key"
          className="input flex-1 input-sm"
          placeholder="What should happen?"
          value={wanted}
          onChange={(event) => setWanted(event.target.value)}
        />
        <button className="btn btn-ghost btn-sm" onClick={onClose}>
          Close
        </button>
      </div>
      <div className="mt-2 overflow-auto" role="region" aria-label="List of keys" tabIndex={0}>
        {groups.length === 0 && <p className="quiet py-3">No key does that on this screen.</p>}
        {groups.map((group) => (
          <section key={group.title} className="mt-2 first:mt-0">
            <h2 className="text-[13px] font-semibold">{group.title}</h2>
            <ul>
              {group.entries.map(({ keys, text }) => (
                <li key={text} className="grid grid-cols-[8rem_1fr] items-baseline gap-2 py-0.5 text-[13px]">
                  <span className="flex flex-wrap gap-1">
                    {keys.map((key) => (
                      <Key key={key}>{key}</Key>
                    ))}
                  </span>
                  <span>{text}</span>
                </li>
              ))}
            </ul>
          </section>
        ))}
      </div>
    </aside>
  );
}
