import { useState } from 'react';
import type { HouseChoice } from '@/contract/motions';
import { writeDrill } from './use-drill-address';
import type { Shelf } from './use-shelf';

interface SaveOnShelfProps {
  readonly house: HouseChoice;
  readonly suggested: string;
  readonly shelf: Shelf;
}

/** Names a house motion as it is set and puts it on the shelf, where every character finds it. */
export function SaveOnShelf({ house, suggested, shelf }: SaveOnShelfProps) {
  const [name, setName] = useState<string | null>(null);
  if (name === null)
    return (
      <button className="btn btn-xs" onClick={() => setName(suggested)}>
        Save on the shelf …
      </button>
    );
  const save = async () => {
    const trimmed = name.trim();
    if (trimmed === '') return;
    const [saved] = await shelf.shelveHouse(house, trimmed);
    setName(null);
    if (saved) writeDrill({ motion: saved.id, set: null });
  };
  return (
    <form
      className="flex w-full gap-1.5"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <input
        autoFocus
        aria-label="Name on the shelf"
        className="input min-w-0 flex-1 input-xs"
        maxLength={200}
        value={name}
        onChange={(event) => setName(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Escape') setName(null);
        }}
      />
      <button className="btn btn-primary btn-xs">Save</button>
      <button type="button" className="btn btn-ghost btn-xs" onClick={() => setName(null)}>
        Cancel
      </button>
    </form>
  );
}
