'use client';

import { useCharacter } from '../character/character-context';
import { Block } from './parts';

/** Skeletons that clothing brought along: shown bone by bone, folded at a click. */
export function CopiesBlock({ onShow }: { onShow: (isShown: boolean) => void }) {
  const { character, fit, decide } = useCharacter();
  const { copies, boneCount } = character.sheet;
  const { folds } = fit.state.intake;
  if (copies.length === 0 && folds.length === 0) return null;
  const isFolded = folds.length > 0;
  return (
    <Block
      title="Copied skeleton"
      aside={isFolded ? `${folds.length} bones folded` : `${copies.length} of ${boneCount} bones are copies`}
    >
      <p className="text-[13px]">
        {isFolded
          ? 'The copies are folded into the figure’s bones; what was bound to them is bound there and moves as before.'
          : `${copies.length} bones repeat the figure’s by name and place, as clothing does that brings its own skeleton. Folded, ${boneCount - copies.length} bones remain and nothing moves differently.`}
      </p>
      <details className="mt-0.5 text-[13px]">
        <summary className="quiet cursor-pointer">Which bones</summary>
        <ul className="max-h-32 overflow-auto font-mono text-xs">
          {copies.map((copy) => (
            <li key={copy.from}>
              {copy.fromName} → {copy.intoName}
            </li>
          ))}
        </ul>
      </details>
      <div className="mt-1 flex gap-2">
        {isFolded ? (
          <button className="btn btn-xs" onClick={() => decide({ folds: [] })}>
            Keep them apart again
          </button>
        ) : (
          <button
            className="btn btn-primary btn-xs"
            onClick={() => decide({ folds: copies.map(({ from, into }) => ({ from, into })) })}
          >
            Fold {copies.length} bones
          </button>
        )}
        {!isFolded && (
          <button
            className="btn btn-ghost btn-xs"
            onMouseEnter={() => onShow(true)}
            onMouseLeave={() => onShow(false)}
            onFocus={() => onShow(true)}
            onBlur={() => onShow(false)}
          >
            Show on the stage
          </button>
        )}
      </div>
    </Block>
  );
}
