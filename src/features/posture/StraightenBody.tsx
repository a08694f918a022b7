'use client';

import { useEffect, useMemo, useState } from 'react';
import { listNames } from '@/core/checks/finding';
import { withAligned } from '@/core/posture/posture';
import { poseChanges } from '@/core/posture/pose-changes';
import type { PostureSheet } from '@/core/posture/posture-sheet';
import type { RoleDeviation } from '@/core/posture/measure-posture';
import { findTears } from '@/core/posture/tears';
import { postureActions } from '@/core/repairs/choose-repairs';
import { computeWorlds, type RigPose } from '@/core/rig/pose';
import { centimetresText, degreesText } from '@/ui/text';
import { useCharacter } from '../character/character-context';
import { useAlignInput } from './use-align-input';
import type { MeshMeasures } from './use-posture-report';

interface StraightenBodyProps {
  readonly deviations: readonly RoleDeviation[];
  readonly mesh: MeshMeasures;
  readonly preview: RigPose | null;
  readonly onPreview: (pose: RigPose | null) => void;
}

/** The cure of a bent or turned body: looked at first, with what turns and what the mesh does. */
export function StraightenBody({ deviations, mesh, preview, onPreview }: StraightenBodyProps) {
  const { definition, fit, act } = useCharacter();
  const input = useAlignInput();
  const [action] = postureActions({ aligns: false, straightens: true }, fit.state, definition);
  const [shown, setShown] = useState<RigPose | null>(null);
  const isOff = deviations.some(({ role, isWithin }) => !isWithin && action?.roles?.includes(role));
  const isOpen = shown !== null && preview === shown;
  if (!action || (!isOff && !isOpen)) return null;
  const look = () => {
    const { rotations, shift } = withAligned(input, fit.state.posture, action.roles ?? null, action.choices);
    const pose = { rotations, shift };
    setShown(pose);
    onPreview(pose);
  };
  const close = () => {
    setShown(null);
    onPreview(null);
  };
  if (!isOpen) {
    return (
      <button className="btn btn-sm" onClick={look}>
        Straighten the body …
      </button>
    );
  }
  return (
    <div className="basis-full rounded-box border border-base-300 p-2 text-[13px]" role="group" aria-label="Straighten">
      <Outcome pose={shown} mesh={mesh} />
      <div className="mt-1.5 flex gap-2">
        <button
          className="btn btn-primary btn-xs"
          onClick={() => {
            act(action);
            close();
          }}
        >
          Straighten
        </button>
        <button className="btn btn-xs" onClick={close}>
          Leave it bent
        </button>
      </div>
    </div>
  );
}

/** What would turn, and what the mesh does by it. */
function Outcome({ pose, mesh }: { pose: RigPose; mesh: MeshMeasures }) {
  const { character, definition, fit } = useCharacter();
  const input = useAlignInput();
  const [sheets, setSheets] = useState<{ before: PostureSheet; after: PostureSheet } | null>(null);
  const [hasFailed, setFailed] = useState(false);
  const { measure } = mesh;
  useEffect(() => {
    let isGone = false;
    Promise.all([measure(fit.state.posture), measure(pose)]).then(
      ([before, after]) => {
        if (!isGone) setSheets({ before: before.sheet, after: after.sheet });
      },
      () => {
        if (!isGone) setFailed(true);
      },
    );
    return () => {
      isGone = true;
    };
  }, [measure, pose, fit.state.posture]);
  const labelOf = (role: string): string => definition.roles.find(({ id }) => id === role)?.label ?? role;
  const turns = poseChanges(character.rig, fit.state.posture, pose).flatMap(({ boneIndex, radians }) => {
    const role = Object.keys(fit.state.assignments).find((id) => fit.state.assignments[id]?.boneIndex === boneIndex);
    return role ? [`${labelOf(role).toLowerCase()} ${degreesText(radians)}`] : [];
  });
  const torn = useMemo(() => findTears(input, computeWorlds(character.rig, pose)), [input, character.rig, pose]);
  return (
    <>
      <p>Turns {listNames(turns)}. The stage shows it.</p>
      <p className="quiet" role="status">
        {hasFailed
          ? 'The mesh could not be measured here.'
          : sheets
            ? `Height ${sheets.before.heightM.toFixed(2)} m, then ${sheets.after.heightM.toFixed(2)} m; soles at ${solesText(sheets.after)}.`
            : 'Measuring the mesh …'}{' '}
        {torn.length === 0
          ? 'Nothing of it tears.'
          : `It tears at ${torn.length} ${torn.length === 1 ? 'place' : 'places'}, by up to ${centimetresText(torn[0].metres)}.`}
      </p>
    </>
  );
}

const solesText = ({ sides }: PostureSheet): string =>
  [sides.left.soleCm, sides.right.soleCm].map((cm) => (cm === null ? 'none' : `${cm.toFixed(1)} cm`)).join(' and ');
