'use client';

import { useState } from 'react';
import { turnsByPath, type PostureFile } from '@/core/posture/posture-file';
import { hipsLift } from '@/core/posture/lift-hips';
import { slugOf } from '@/core/text/slug';
import { download } from '@/ui/download';
import { useCharacter } from '../character/character-context';
import type { MeshMeasures } from './use-posture-report';

/** Saves the posture as a file that another character of the same tree can take. */
export function SavePostureButton({ measure }: { measure: MeshMeasures['measure'] }) {
  const { character, definition, fit } = useCharacter();
  const [isBusy, setBusy] = useState(false);
  const save = async () => {
    setBusy(true);
    // Without its measures a posture can be taken all the same.
    const report = await measure(fit.state.posture).catch(() => null);
    setBusy(false);
    const { posture } = fit.state;
    const file: PostureFile = {
      schema: 'yarvo-posture-1',
      character: character.name,
      definition: { id: definition.id, version: definition.version },
      bones: turnsByPath(character.rig, posture),
      hipsLiftM: hipsLift(posture, character.normalisation),
      measured: report?.sheet ?? null,
    };
    download(`${JSON.stringify(file, null, 2)}\n`, `${slugOf(character.name)}.posture.json`, 'application/json');
  };
  return (
    <button
      className="btn ml-auto btn-xs"
      title="Save this posture as a file"
      disabled={isBusy}
      onClick={() => void save()}
    >
      Save …
    </button>
  );
}
