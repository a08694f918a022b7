'use client';

import { useState } from 'react';
import { useCharacter } from '../character/character-context';
import { Block } from './parts';

/** How left and right are told: what decided it, and the rig's own marks where a person knows them. */
export function SidesBlock() {
  const { character, fit, decide } = useCharacter();
  const { sideMarks } = fit.state.intake;
  const { frame, creature } = character.match;
  const [marks, setMarks] = useState({ left: sideMarks?.left ?? '', right: sideMarks?.right ?? '' });
  const isComplete = marks.left.trim() !== '' && marks.right.trim() !== '' && marks.left.trim() !== marks.right.trim();
  if (character.rig.bones.length === 0) return null;
  return (
    <Block title="Left and right" aside={sideMarks ? 'Marks set by hand' : 'Marks learned from the names'}>
      <p className="text-[13px]">
        {frame.namesAreSwapped ? (
          <span className="text-error">The names say the opposite of what the body shows.</span>
        ) : creature.isHumanoid ? (
          'If the names mark sides in an unusual way, enter the marks.'
        ) : (
          'Not a humanoid, so its sides are not judged.'
        )}
      </p>
      <form
        className="mt-1 flex flex-wrap items-center gap-2 text-[13px]"
        onSubmit={(event) => {
          event.preventDefault();
          if (isComplete) decide({ sideMarks: { left: marks.left.trim(), right: marks.right.trim() } });
        }}
      >
        <label>
          Left{' '}
          <input
            aria-label="Mark for left"
            className="input w-16 font-mono input-xs"
            maxLength={20}
            value={marks.left}
            onChange={(event) => setMarks({ ...marks, left: event.target.value })}
          />
        </label>
        <label>
          Right{' '}
          <input
            aria-label="Mark for right"
            className="input w-16 font-mono input-xs"
            maxLength={20}
            value={marks.right}
            onChange={(event) => setMarks({ ...marks, right: event.target.value })}
          />
        </label>
        <button className="btn btn-xs" disabled={!isComplete}>
          Use these marks
        </button>
        {sideMarks && (
          <button
            type="button"
            className="btn btn-ghost btn-xs"
            onClick={() => {
              setMarks({ left: '', right: '' });
              decide({ sideMarks: null });
            }}
          >
            As learned
          </button>
        )}
      </form>
    </Block>
  );
}
