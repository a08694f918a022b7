'use client';

import { memo } from 'react';
import type { Definition } from '@/core/definition/definition';
import type { RoleDeviation } from '@/core/posture/measure-posture';
import type { RigPose } from '@/core/rig/pose';
import { useCharacter } from '../character/character-context';
import { StraightenBody } from './StraightenBody';
import type { MeshMeasures } from './use-posture-report';

interface PostureHeadProps {
  readonly sentence: string;
  readonly deviations: readonly RoleDeviation[];
  readonly picked: readonly string[];
  /** Whether the posture differs from the file's rest. */
  readonly isChanged: boolean;
  readonly mesh: MeshMeasures;
  /** A pose that is looked at before it is taken. */
  readonly preview: RigPose | null;
  readonly onPreview: (pose: RigPose | null) => void;
  /** Opens what puts the soles on the floor. */
  readonly onSoles: () => void;
}

/** What the posture is, in a sentence, and the two buttons that most characters need no more than. */
export const PostureHead = memo(function PostureHead(props: PostureHeadProps) {
  const { sentence, deviations, picked, isChanged, mesh, preview, onPreview, onSoles } = props;
  const { definition, fit, act } = useCharacter();
  const aligned = deviations.filter(({ alignment }) => alignment !== 'leave');
  const off = deviations.filter(({ isWithin }) => !isWithin);
  const leaning = off.filter(({ alignment }) => alignment === 'leave').length;
  const known = picked.filter((role) => definition.roles.some(({ id }) => id === role) && fit.state.assignments[role]);
  return (
    <div className="px-4 pt-3">
      <p className="text-base font-semibold" data-testid="posture-sentence">
        {sentence}
      </p>
      <p className="quiet mt-0.5 text-[13px]">
        {verdictText({ aligned: aligned.length, off: off.length, leaning, definition })}
      </p>
      <SolesHint mesh={mesh} onSoles={onSoles} />
      <div className="mt-2 flex flex-wrap items-center gap-2 pb-2">
        <button
          className="btn btn-primary btn-sm"
          disabled={aligned.length === 0}
          onClick={() => act({ kind: 'align-posture' })}
        >
          Align all
        </button>
        <button
          className="btn btn-sm"
          disabled={known.length === 0}
          onClick={() => act({ kind: 'align-posture', roles: known })}
        >
          {known.length > 1 ? `Align these ${known.length}` : 'Align this one'}
        </button>
        <button className="btn btn-ghost btn-sm" disabled={!isChanged} onClick={() => act({ kind: 'reset-posture' })}>
          Reset
        </button>
        <StraightenBody deviations={deviations} mesh={mesh} preview={preview} onPreview={onPreview} />
      </div>
    </div>
  );
});

interface Counted {
  readonly aligned: number;
  readonly off: number;
  /** Those of them that aligning leaves as they are. */
  readonly leaning: number;
  readonly definition: Pick<Definition, 'label' | 'pose'>;
}

function verdictText({ aligned, off, leaning, definition }: Counted): string {
  if (aligned === 0) return 'No role that could be aligned has a bone.';
  const pose = `${definition.label}'s ${definition.pose}-pose`;
  if (off === 0) return `All segments, and the body that carries them, are within tolerance of ${pose}.`;
  const first = off - leaning;
  const parts = [
    ...(first > 0 ? [`${first} of ${aligned} aligned segments`] : []),
    ...(leaning > 0 ? [`${leaning} ${leaning === 1 ? 'part' : 'parts'} of the body that aligning leaves`] : []),
  ];
  return `${parts.join(' and ')} ${off === 1 ? 'is' : 'are'} outside tolerance of ${pose}.`;
}

/** A sole further from the floor than this is off it, centimetres. */
const OFF_FLOOR_CM = 2;

/** After aligning a figure may hover or sink: what the mesh shows of it. */
function SolesHint({ mesh, onSoles }: { mesh: MeshMeasures; onSoles: () => void }) {
  const { fit } = useCharacter();
  if (!mesh.report || mesh.isStale || fit.state.posture.aligned.length === 0) return null;
  const { left, right } = mesh.report.sheet.sides;
  const soles = [left.soleCm, right.soleCm].filter((cm) => cm !== null);
  const worst = soles.reduce((most, cm) => (Math.abs(cm) > Math.abs(most) ? cm : most), 0);
  if (Math.abs(worst) <= OFF_FLOOR_CM) return null;
  return (
    <p role="status" className="mt-1 text-[13px] text-warning">
      A sole is {Math.abs(worst).toFixed(1)} cm {worst > 0 ? 'above' : 'under'} the floor.{' '}
      <button className="link" onClick={onSoles}>
        Put both flat on it
      </button>
    </p>
  );
}
