'use client';

import { GROUNDINGS, type Grounding } from '@/core/motion/carry-options';
import type { GroundReport } from '@/core/ground/grounded-carrier';
import type { DrillInfo } from '@/workers/browser/drill.worker';
import { useCharacter } from '../character/character-context';
import { Choice } from '@/ui/Choice';

const TEXT: Readonly<Record<Grounding, { readonly label: string; readonly title: string }>> = {
  leave: { label: 'Leave', title: 'Feet go where rotations bring them' },
  likeness: {
    label: 'By likeness',
    title: 'As in the source where the legs are unlike; by rotations alone where they are alike',
  },
  plant: { label: 'Plant', title: 'Where they bear they stay, on the floor' },
};

/** How feet stand in every motion of the character, and what it came to. */
export function FeetChoice({ info }: { readonly info: DrillInfo | null }) {
  const { fit, act } = useCharacter();
  const { grounding } = fit.state.carrying;
  const ground = info?.figures[0]?.ground;
  return (
    <fieldset className="flex items-center gap-1">
      <legend className="sr-only">Feet</legend>
      <span className="quiet py-0.5">Feet</span>
      {GROUNDINGS.map((each) => (
        <Choice
          key={each}
          isOn={grounding === each}
          title={grounding === each && ground && each !== 'leave' ? longText(ground) : TEXT[each].title}
          onClick={() => act({ kind: 'set-carrying', change: { grounding: each } })}
        >
          {TEXT[each].label}
        </Choice>
      ))}
      {ground && grounding !== 'leave' && (
        <span className="quiet hidden truncate min-[1500px]:inline" title={longText(ground)}>
          {shortText(ground)}
        </span>
      )}
    </fieldset>
  );
}

const percent = ({ unlikeness }: GroundReport): string => `${(unlikeness * 100).toFixed(1)} %`;

function shortText(ground: GroundReport): string {
  if (ground.reason) return 'nothing moved';
  if (ground.kind === 'rotations') return `alike to ${percent(ground)}`;
  const drop = ground.dropMetres * 100;
  return drop >= 0.05 ? `hips to ${drop.toFixed(1)} cm lower` : 'led';
}

export function longText(ground: GroundReport): string {
  const legs = `Legs and feet differ from the source's by up to ${percent(ground)} of the leg`;
  if (ground.reason) return `${legs}, but nothing is moved. ${ground.reason}`;
  if (ground.kind === 'rotations') return `${legs}: alike, so rotations alone.`;
  const drop = ground.dropMetres > 5e-4 ? ` The hips go down by up to ${(ground.dropMetres * 100).toFixed(1)} cm.` : '';
  return `${legs}: its feet are led${ground.kind === 'planted' ? ' and stay where they bear' : ''}.${drop}`;
}
