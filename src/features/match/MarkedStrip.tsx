'use client';

import { useEffect, useState } from 'react';
import { SPARE_KINDS, type SpareKind } from '@/core/match/context/match-types';
import { useCharacter } from '../character/character-context';
import type { PlannedRepair } from '@/core/intake/plan-repair';
import { RepairButton } from './RepairButton';
import { capitalised } from '@/ui/text';

/** What can be done with several bones at once: their kind, a line from them, their place in the tree. */
export function MarkedStrip({
  bones,
  onPreview,
  onDone,
}: {
  bones: readonly number[];
  onPreview: (plan: PlannedRepair | null) => void;
  onDone: () => void;
}) {
  const { character, definition, fit, act } = useCharacter();
  /** A line that is refused keeps its marks: they go with the revision that took them. */
  const [filledAt, setFilledAt] = useState<number | null>(null);
  const { revision } = fit;
  useEffect(() => {
    if (filledAt !== null && revision > filledAt) onDone();
  }, [filledAt, revision, onDone]);
  const name = (bone: number) => character.rig.bones[bone].name;
  const last = bones[bones.length - 1];
  const others = bones.slice(0, -1);
  return (
    <section
      aria-label="Marked bones"
      className="grid h-[86px] grid-cols-[minmax(0,1fr)_auto] items-center gap-4 overflow-auto border-y border-primary/40 bg-base-100 px-4 py-2"
    >
      <div className="min-w-0">
        <h2 className="font-semibold">
          {bones.length} {bones.length === 1 ? 'bone' : 'bones'} marked
        </h2>
        <p className="quiet truncate font-mono text-[12.5px]" title={bones.map(name).join(', ')}>
          {bones.map(name).join(', ')}
        </p>
      </div>
      <div className="flex flex-wrap justify-end gap-1.5">
        <select
          aria-label="Kind of these spares"
          className="select w-36 select-sm"
          value=""
          onChange={(event) => {
            act({
              kind: 'set-spare-kind',
              bones: [...bones],
              spareKind: event.target.value === 'found' ? null : (event.target.value as SpareKind),
            });
            onDone();
          }}
        >
          <option value="">Kind …</option>
          {SPARE_KINDS.map((kind) => (
            <option key={kind} value={kind}>
              {capitalised(kind)}
            </option>
          ))}
          <option value="found">As found</option>
        </select>
        <select
          aria-label="Fill a line with these bones"
          className="select w-40 select-sm"
          value=""
          onChange={(event) => {
            act({ kind: 'fill-line', line: event.target.value, bones: [...bones] });
            setFilledAt(fit.revision);
          }}
        >
          <option value="">Fill a line …</option>
          {definition.lines.map((line) => (
            <option key={line.id} value={line.id}>
              {line.label}
            </option>
          ))}
        </select>
        {others.length > 0 && (
          <RepairButton
            plan={{ kind: 'reparent', bones: others, parent: last }}
            title={`${others.map(name).join(', ')} on ${name(last)}`}
            onPreview={onPreview}
            onDone={onDone}
          >
            Parent to last marked
          </RepairButton>
        )}
        <RepairButton
          plan={{ kind: 'collapse', bones }}
          title="Each goes into its parent, weights and children with it"
          onPreview={onPreview}
          onDone={onDone}
        >
          Merge into parents
        </RepairButton>
        <RepairButton
          plan={{ kind: 'insert', bones }}
          title="A new joint half-way from the parent of each"
          onPreview={onPreview}
          onDone={onDone}
        >
          {bones.length === 1 ? 'Insert a joint above' : 'Insert joints above'}
        </RepairButton>
        <button className="btn btn-ghost btn-sm" onClick={onDone}>
          Unmark
        </button>
      </div>
    </section>
  );
}
