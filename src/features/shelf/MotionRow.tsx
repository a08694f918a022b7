'use client';

import Link from 'next/link';
import type { ClipMotion, MotionChange, MotionView, ShelfReference } from '@/contract/motions';
import { ROOT_COMPONENTS } from '@/core/motion/carry-options';

interface MotionRowProps {
  readonly motion: MotionView;
  readonly when: string;
  readonly onChange: (change: MotionChange) => void;
  readonly onCopy: () => void;
  readonly onRemove: () => void;
}

/** Rates that files are kept in; null stands for the clip's own. */
const RATES = [24, 25, 30, 50, 60, 120];

const CELL = 'border-b border-base-300 px-3 py-1.5 align-top group-last:border-0';

/** One motion of the shelf, with what can be chosen about it. */
export function MotionRow({ motion, when, onChange, onCopy, onRemove }: MotionRowProps) {
  const { travel, framesPerSecond, clipFramesPerSecond } = motion;
  return (
    <tr className="group hover:bg-base-200">
      <td className={`${CELL} min-w-48`}>
        <input
          key={motion.name}
          aria-label={`Name of ${motion.name}`}
          className="w-full bg-transparent font-semibold"
          defaultValue={motion.name}
          maxLength={200}
          onBlur={(event) => {
            const name = event.target.value.trim();
            if (name !== '' && name !== motion.name) onChange({ name });
            else event.target.value = motion.name;
          }}
          onKeyDown={(event) => {
            if (event.key === 'Enter') event.currentTarget.blur();
          }}
        />
        <div className="quiet font-mono text-xs">
          {motion.kind === 'clip' && `${motion.fileName}${motion.clipName === 'motion' ? '' : ` · ${motion.clipName}`}`}
          {motion.kind === 'house' && `house:${motion.house.entry}`}
          {motion.kind === 'kept' && 'kept as a motion'}
        </div>
        {motion.edits.length > 0 && (
          <div className="quiet">
            edited in {motion.edits.length} {motion.edits.length === 1 ? 'step' : 'steps'}
          </div>
        )}
      </td>
      <td className={`${CELL} tabular-nums`}>{motion.durationSeconds.toFixed(2)} s</td>
      <td className={CELL}>
        <select
          aria-label={`Rate of ${motion.name}`}
          className="select w-24 select-xs"
          value={framesPerSecond ?? ''}
          onChange={(event) =>
            onChange({ framesPerSecond: event.target.value === '' ? null : Number(event.target.value) })
          }
        >
          <option value="">its own{clipFramesPerSecond > 0 ? ` ${Number(clipFramesPerSecond.toFixed(1))}` : ''}</option>
          {framesPerSecond !== null && !RATES.includes(framesPerSecond) && (
            <option value={framesPerSecond}>{framesPerSecond}/s</option>
          )}
          {RATES.map((rate) => (
            <option key={rate} value={rate}>
              {rate}/s
            </option>
          ))}
        </select>
      </td>
      <td className={CELL}>
        {motion.kind === 'clip' ? (
          <ReferenceChoice motion={motion} onChoose={(reference) => onChange({ reference })} />
        ) : (
          <span className="quiet">none needed</span>
        )}
      </td>
      <td className={CELL}>
        <div role="group" aria-label={`Travel of ${motion.name}`} className="grid gap-0.5">
          {ROOT_COMPONENTS.map((component) => (
            <label key={component} className="flex items-center gap-1.5">
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                checked={travel.components.includes(component)}
                onChange={(event) =>
                  onChange({
                    travel: {
                      ...travel,
                      components: ROOT_COMPONENTS.filter((each) =>
                        each === component ? event.target.checked : travel.components.includes(each),
                      ),
                    },
                  })
                }
              />
              {component}
            </label>
          ))}
        </div>
      </td>
      <td className={CELL}>
        {motion.kind === 'clip' ? <Skeleton motion={motion} /> : <span className="quiet">none</span>}
      </td>
      <td className={`${CELL} quiet whitespace-nowrap`}>
        <time dateTime={motion.createdAt} suppressHydrationWarning>
          {when}
        </time>
        <br />
        by {motion.createdBy}
      </td>
      <td className={CELL}>
        <button className="btn btn-ghost btn-xs" aria-label={`Copy ${motion.name}`} onClick={onCopy}>
          Copy
        </button>
        <button className="btn btn-ghost btn-xs" aria-label={`Take ${motion.name} off the shelf`} onClick={onRemove}>
          Take off
        </button>
      </td>
    </tr>
  );
}

/** Whose match and posture count. */
function Skeleton({ motion }: { motion: ClipMotion }) {
  return (
    <>
      <Link className="link link-primary" href={`/characters/${motion.fitCharacterId}/match`}>
        {motion.fitCharacterName}
      </Link>
      {motion.fitCharacterId !== motion.characterId && <div className="quiet">the same skeleton</div>}
      {motion.doubts > 0 && (
        <div className="text-warning">
          {motion.doubts} {motion.doubts === 1 ? 'doubt' : 'doubts'} in its match
        </div>
      )}
      <div>
        <Link className="link link-primary" href={`/characters/${motion.fitCharacterId}/posture`}>
          posture
        </Link>
      </div>
    </>
  );
}

/** Which pose of the file is the reference; a frame of the clip is left out of it. */
function ReferenceChoice({ motion, onChoose }: { motion: ClipMotion; onChoose: (reference: ShelfReference) => void }) {
  const isFrame = motion.reference.startsWith('frame');
  const frame = /\d+/.exec(motion.reference)?.[0] ?? '0';
  return (
    <div className="grid gap-1">
      <select
        aria-label={`Reference pose of ${motion.name}`}
        className="select w-28 select-xs"
        value={isFrame ? 'frame' : motion.reference}
        onChange={(event) => {
          const { value } = event.target;
          // What is chosen counts at once; another frame is chosen after it.
          onChoose(value === 'frame' ? { kind: 'frame', frame: 0 } : { kind: value as 'rest' | 'bind' });
        }}
      >
        <option value="rest">rest</option>
        <option value="bind">bind pose</option>
        <option value="frame">a frame</option>
      </select>
      {isFrame && (
        <label className="flex items-center gap-1">
          <input
            key={frame}
            type="number"
            aria-label={`Reference frame of ${motion.name}`}
            className="input w-16 input-xs"
            min={0}
            defaultValue={frame}
            onBlur={(event) => {
              const next = Number(event.target.value);
              if (Number.isInteger(next) && next >= 0 && String(next) !== frame)
                onChoose({ kind: 'frame', frame: next });
            }}
            onKeyDown={(event) => {
              if (event.key === 'Enter') event.currentTarget.blur();
            }}
          />
          of the clip, left out
        </label>
      )}
    </div>
  );
}
