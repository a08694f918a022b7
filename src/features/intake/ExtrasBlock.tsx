'use client';

import type { Extra } from '@/core/rig/rig';
import { useCharacter } from '../character/character-context';
import { Block } from './parts';

const WORDS: Record<Extra['kind'], string> = {
  camera: 'Camera',
  light: 'Light',
  empty: 'Empty node',
  container: 'Container above the bones',
  'rigid-mesh': 'Rigid prop on a bone',
  'static-mesh': 'Mesh apart from the bones',
  'further-root': 'Further skeleton root',
};

/** What the file holds besides the figure; each left out or kept, with what that takes away. */
export function ExtrasBlock() {
  const { character, fit, decide } = useCharacter();
  const { extras } = character.sheet;
  const { leftOut } = fit.state.intake;
  const open = extras.filter(
    (extra) => extra.kind !== 'container' && extra.canLeaveOut && !leftOut.includes(extra.nodeIndex),
  );
  const toggle = (nodeIndex: number) =>
    decide({
      leftOut: leftOut.includes(nodeIndex) ? leftOut.filter((index) => index !== nodeIndex) : [...leftOut, nodeIndex],
    });
  return (
    <Block
      title="Extras"
      aside={
        open.length > 1 && (
          <button
            className="link link-hover"
            onClick={() => decide({ leftOut: [...leftOut, ...open.map((extra) => extra.nodeIndex)] })}
          >
            Leave all {open.length} out
          </button>
        )
      }
    >
      {extras.length === 0 ? (
        <p className="quiet text-[13px]">Nothing but the figure.</p>
      ) : (
        <ul className="max-h-44 overflow-auto text-[13px]">
          {extras.map((extra) => {
            const isOut = leftOut.includes(extra.nodeIndex);
            return (
              <li key={extra.nodeIndex} className="flex items-center gap-2 py-px">
                <input
                  type="checkbox"
                  className="checkbox checkbox-xs"
                  aria-label={`Keep ${extra.name}`}
                  checked={!isOut}
                  disabled={!extra.canLeaveOut && !isOut}
                  onChange={() => toggle(extra.nodeIndex)}
                />
                <span
                  className={`max-w-44 min-w-16 shrink-0 truncate font-mono ${isOut ? 'line-through opacity-70' : ''}`}
                  title={extra.name}
                >
                  {extra.name}
                </span>
                <span
                  className="quiet min-w-0 flex-1 truncate"
                  title={`${WORDS[extra.kind]}, ${effectText(extra, isOut)}`}
                >
                  {WORDS[extra.kind]}, {effectText(extra, isOut)}
                </span>
              </li>
            );
          })}
        </ul>
      )}
    </Block>
  );
}

function effectText(
  extra: { kind: Extra['kind']; vertexCount: number; boneCount: number; canLeaveOut: boolean },
  isOut: boolean,
): string {
  const takes = [
    extra.boneCount > 0 && `${extra.boneCount} ${extra.boneCount === 1 ? 'bone' : 'bones'}`,
    extra.vertexCount > 0 && `${extra.vertexCount.toLocaleString('en')} vertices`,
  ]
    .filter(Boolean)
    .join(', ');
  if (isOut) return `left out${takes ? `: ${takes}` : ''}`;
  if (extra.kind === 'container') return 'holds the figure';
  if (!extra.canLeaveOut) return 'the figure is bound to it';
  return takes ? `holds ${takes}` : 'holds nothing';
}
