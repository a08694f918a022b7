'use client';

import { useMemo, useState } from 'react';
import type { FitAction } from '@/core/fit/actions/fit-actions';
import { poseChanges } from '@/core/posture/pose-changes';
import { bindWorlds, poseFromWorlds } from '@/core/rig/local-pose';
import { REST_POSE, type RigPose } from '@/core/rig/pose';
import { degreesText } from '@/ui/text';
import { useCharacter } from '../character/character-context';
import { ClipScrubber } from './ClipScrubber';
import { poseOfCharacter, poseOfFile, type PoseOffer } from './pose-sources';
import { RelativeChoice } from './RelativeChoice';
import { SavePostureButton } from './SavePostureButton';
import { useAlignInput } from './use-align-input';
import type { MeshMeasures } from './use-posture-report';

type Origin = Extract<FitAction, { kind: 'set-pose' }>['origin'];

const SOURCES = ['rest', 'bind', 'clip', 'character', 'file'] as const;
type Source = (typeof SOURCES)[number];

interface TakePanelProps {
  readonly mesh: MeshMeasures;
  readonly preview: RigPose | null;
  readonly onPreview: (pose: RigPose | null) => void;
}

/** Takes the reference pose from elsewhere: first it is shown, with what would change by how much. */
export function TakePanel({ mesh, preview, onPreview }: TakePanelProps) {
  const { character, fit, act } = useCharacter();
  const input = useAlignInput();
  const [source, setSource] = useState<Source | null>(null);
  const [label, setLabel] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const { rig } = character;
  const bind = useMemo(
    () =>
      rig.bones.some(({ bindWorld }) => bindWorld !== null)
        ? poseFromWorlds(rig, bindWorlds(rig), input.roleBones.get('hips') ?? null)
        : null,
    [rig, input],
  );
  const offer = (found: PoseOffer, name: string) => {
    setProblem('problem' in found ? found.problem : null);
    setLabel(name);
    onPreview('pose' in found ? found.pose : null);
  };
  const choose = (next: Source) => {
    setSource(next);
    setProblem(null);
    onPreview(null);
    if (next === 'rest') offer({ pose: REST_POSE }, "the file's rest");
    if (next === 'bind' && bind) offer({ pose: bind }, 'the bind pose');
  };
  const take = () => {
    if (!preview || !source) return;
    act(
      source === 'rest'
        ? { kind: 'reset-posture' }
        : {
            kind: 'set-pose',
            origin: ORIGINS[source],
            label,
            pose: preview as Extract<FitAction, { kind: 'set-pose' }>['pose'],
          },
    );
    setSource(null);
    onPreview(null);
  };
  const available: Readonly<Record<Source, string | null>> = {
    rest: null,
    bind: bind ? null : 'No mesh is bound to this skeleton.',
    clip: rig.clips.length > 0 ? null : 'The file has no clips.',
    character: null,
    file: null,
  };
  return (
    <section aria-label="Take a pose" className="flex min-h-0 flex-1 flex-col text-[13px]">
      <div className="grid gap-2 px-4 py-2">
        <div role="group" aria-label="Take the pose from" className="flex flex-wrap gap-1">
          {SOURCES.map((each) => (
            <button
              key={each}
              className={`btn btn-xs ${each === source ? 'btn-primary' : ''}`}
              aria-pressed={each === source}
              disabled={available[each] !== null}
              title={available[each] ?? undefined}
              onClick={() => choose(each)}
            >
              {SOURCE_TEXT[each]}
            </button>
          ))}
          <SavePostureButton measure={mesh.measure} />
        </div>
        {source === 'clip' && (
          <ClipScrubber clips={rig.clips} moment={mesh.moment} onMoment={(pose, name) => offer({ pose }, name)} />
        )}
        {source === 'character' && (
          <RelativeChoice
            onChoose={(other) => offer(poseOfCharacter(input, other), other.name)}
            onFail={(text) => setProblem(text)}
          />
        )}
        {source === 'file' && (
          <input
            type="file"
            aria-label="Posture file"
            accept=".json,application/json"
            className="file-input file-input-xs"
            onChange={(event) => {
              const file = event.target.files?.[0];
              if (file) void poseOfFile(input, file).then((found) => offer(found, file.name));
            }}
          />
        )}
        {problem && (
          <p role="alert" className="text-error">
            {problem}
          </p>
        )}
      </div>
      {preview ? (
        <Changes from={fit.state.posture} to={preview} onTake={take} />
      ) : (
        !problem && (
          <p className="quiet px-4">
            Choose where the pose comes from. It is shown on the stage first, with what it changes; nothing is taken
            before you say so.
          </p>
        )
      )}
    </section>
  );
}

const SOURCE_TEXT: Readonly<Record<Source, string>> = {
  rest: "File's rest",
  bind: 'Bind pose',
  clip: 'Clip',
  character: 'Character',
  file: 'Posture file',
};
const ORIGINS: Readonly<Record<Exclude<Source, 'rest'>, Origin>> = {
  bind: 'bind',
  clip: 'frame',
  character: 'character',
  file: 'file',
};

/** What would change, the most first. */
function Changes({ from, to, onTake }: { from: RigPose; to: RigPose; onTake: () => void }) {
  const { character, definition, fit } = useCharacter();
  const changes = useMemo(() => poseChanges(character.rig, from, to), [character.rig, from, to]);
  const labels = useMemo(
    () =>
      new Map(
        Object.entries(fit.state.assignments).map(([role, { boneIndex }]) => [
          boneIndex,
          definition.roles.find(({ id }) => id === role)?.label ?? role,
        ]),
      ),
    [fit.state.assignments, definition],
  );
  return (
    <>
      <div className="flex items-center gap-2 border-t border-base-300 px-4 py-2">
        <button className="btn btn-primary btn-sm" onClick={onTake}>
          Take this pose
        </button>
        <span className="quiet">
          {changes.length === 0
            ? 'No bone turns.'
            : `${changes.length} ${changes.length === 1 ? 'bone turns' : 'bones turn'}, the most by ${degreesText(changes[0].radians)}.`}
        </span>
      </div>
      <div className="min-h-0 flex-1 overflow-auto border-t border-base-300">
        <table className="w-full" aria-label="What changes">
          <tbody>
            {changes.map(({ boneIndex, radians }) => (
              <tr key={boneIndex} className="hover:bg-base-200">
                <td className="py-0.5 pl-4">{labels.get(boneIndex) ?? <span className="quiet">spare</span>}</td>
                <td className="quiet max-w-40 truncate font-mono text-xs">{character.rig.bones[boneIndex].name}</td>
                <td className="pr-4 text-right tabular-nums">{degreesText(radians)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
