'use client';

import { useState } from 'react';
import type { PoseSource } from '@/core/intake/decisions';
import { centimetresText } from '@/ui/text';
import { useCharacter } from '../character/character-context';
import { Block, Heads } from './parts';

/** The poses a file holds, how far they lie from its rest, and which one counts. */
export function PoseBlock() {
  const { character, fit, decide } = useCharacter();
  const { sheet, normalisation } = character;
  const { pose } = fit.state.intake;
  if (sheet.boneCount === 0) return null;
  const bind = sheet.poses.find((entry) => entry.pose === 'bind');
  const difference = (entry: (typeof sheet.poses)[number]) =>
    entry.boneCount === 0 ? (
      <span className="quiet">Same as the rest</span>
    ) : (
      <>
        {entry.maxDegrees.toFixed(1)}° and {centimetresText(entry.maxDistance * normalisation.scale)}{' '}
        <span className="quiet">
          at {sheet.worstBones[String(entry.worstBone)]}, {entry.boneCount} bones
        </span>
      </>
    );
  return (
    <Block title="Rest pose" aside="Which pose of the file counts">
      <table className="w-full text-[13px]">
        <Heads names={[[''], ['Pose'], ['Largest difference from the file’s rest']]} />
        <tbody>
          <PoseRow
            name="File’s rest"
            isChosen={pose.kind === 'rest'}
            onChoose={() => decide({ pose: { kind: 'rest' } })}
          >
            <span className="quiet">–</span>
          </PoseRow>
          {bind && (
            <PoseRow
              name="Bind pose"
              isChosen={pose.kind === 'bind'}
              onChoose={() => decide({ pose: { kind: 'bind' } })}
            >
              {difference(bind)}
            </PoseRow>
          )}
          {sheet.poses
            .filter((entry) => entry.pose === 'frame')
            .map((entry) => (
              <PoseRow
                key={entry.clip}
                name={`Frame 0 of ${sheet.clips[entry.clip]?.name ?? entry.clip}`}
                isChosen={pose.kind === 'frame' && pose.clip === entry.clip}
                onChoose={() => decide({ pose: { kind: 'frame', clip: entry.clip, frame: 0, isDropped: false } })}
              >
                {difference(entry)}
              </PoseRow>
            ))}
        </tbody>
      </table>
      {pose.kind === 'frame' && <FrameChoice key={`${pose.clip} ${pose.frame}`} pose={pose} />}
    </Block>
  );
}

function PoseRow({
  name,
  isChosen,
  onChoose,
  children,
}: {
  name: string;
  isChosen: boolean;
  onChoose: () => void;
  children: React.ReactNode;
}) {
  return (
    <tr className={isChosen ? 'font-semibold' : ''}>
      <td className="w-6">
        <input
          type="radio"
          className="radio radio-xs align-middle radio-primary"
          name="pose"
          aria-label={`Rest is the ${name[0].toLowerCase()}${name.slice(1)}`}
          checked={isChosen}
          onChange={onChoose}
        />
      </td>
      <td className="pr-2">{name}</td>
      <td className="font-normal">{children}</td>
    </tr>
  );
}

/** Another frame of the chosen clip, and whether it is taken out of the clip. */
function FrameChoice({ pose }: { pose: Extract<PoseSource, { kind: 'frame' }> }) {
  const { character, decide } = useCharacter();
  const clip = character.sheet.clips[pose.clip];
  const last = clip ? Math.round(clip.durationSeconds * clip.framesPerSecond) : 0;
  const [frame, setFrame] = useState(String(pose.frame));
  const send = () => {
    const value = Math.min(last, Math.max(0, Math.round(Number(frame) || 0)));
    if (value !== pose.frame) decide({ pose: { ...pose, frame: value } });
  };
  return (
    <div className="mt-1 flex items-center gap-3 pl-6 text-[13px]">
      <label className="flex items-center gap-1.5">
        Frame{' '}
        <input
          type="number"
          aria-label={`frame of ${last}`}
          className="input w-20 input-xs"
          min={0}
          max={last}
          value={frame}
          onChange={(event) => setFrame(event.target.value)}
          onBlur={send}
          onKeyDown={(event) => {
            if (event.key === 'Enter') send();
          }}
        />{' '}
        of {last}
      </label>
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={pose.isDropped}
          onChange={(event) => decide({ pose: { ...pose, isDropped: event.target.checked } })}
        />{' '}
        Drop it from the clip
      </label>
    </div>
  );
}
