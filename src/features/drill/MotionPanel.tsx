'use client';

import Link from 'next/link';
import type { MotionChange, MotionView } from '@/contract/motions';
import { HOUSE_SET } from '@/core/house/house-set';
import { ROOT_COMPONENTS, type RootComponent } from '@/core/motion/carry-options';
import type { DrillInfo } from '@/workers/browser/drill.worker';
import { NumberField } from '@/ui/NumberField';
import { centimetresText, capitalised } from '@/ui/text';
import { Choice } from '@/ui/Choice';
import { useCharacter } from '../character/character-context';
import { doubtText } from './MotionList';

interface MotionPanelProps {
  readonly motion: MotionView;
  readonly info: DrillInfo | null;
  readonly onChange: (change: MotionChange) => void;
  /** Saves the motion as a file; null until it is there. */
  readonly onSave: (() => void) | null;
}

/** Where the motion on the stage comes from, and what was chosen about it. */
export function MotionPanel({ motion, info, onChange, onSave }: MotionPanelProps) {
  const { travel } = motion;
  const isTravelling = travel.components.length > 0;
  const setComponents = (component: RootComponent) => {
    const has = travel.components.includes(component);
    const components = ROOT_COMPONENTS.filter((each) => (each === component ? !has : travel.components.includes(each)));
    onChange({ travel: { ...travel, components } });
  };
  return (
    <section aria-label="Motion" className="grid gap-1.5 border-t border-base-300 px-4 py-2 text-[13px]">
      <div className="flex items-baseline gap-2">
        <h2 className="min-w-0 flex-1 truncate text-sm font-semibold">{motion.name}</h2>
        {onSave && (
          <button
            className="btn btn-ghost btn-xs"
            title="As a yarvo-motion-1 file, free of any skeleton"
            onClick={onSave}
          >
            Save as file
          </button>
        )}
      </div>
      <Origin motion={motion} />
      <div role="group" aria-label="Travel of the hips that goes to the root" className="flex flex-wrap items-center">
        <span className="quiet mr-1">Travel to the root</span>
        {ROOT_COMPONENTS.map((component) => (
          <Choice key={component} isOn={travel.components.includes(component)} onClick={() => setComponents(component)}>
            {capitalised(component)}
          </Choice>
        ))}
      </div>
      {isTravelling && (
        <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
          <label className="flex items-center gap-1">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={travel.cutoffHz !== null}
              onChange={(event) => onChange({ travel: { ...travel, cutoffHz: event.target.checked ? 2 : null } })}
            />
            smooth
          </label>
          {travel.cutoffHz !== null && (
            <label className="flex items-center gap-1">
              above
              <NumberField
                className="w-16"
                min={0.1}
                max={60}
                step={0.1}
                value={travel.cutoffHz}
                onChange={(cutoffHz) => onChange({ travel: { ...travel, cutoffHz } })}
              />
              Hz
            </label>
          )}
          <label className="flex items-center gap-1">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={travel.others === 'follow'}
              onChange={(event) =>
                onChange({ travel: { ...travel, others: event.target.checked ? 'follow' : 'stay' } })
              }
            />
            what else hangs on the root follows
          </label>
        </div>
      )}
      {info && <CarriedNotes info={info} />}
    </section>
  );
}

/** What carrying came to, in sentences. */
function CarriedNotes({ info }: { info: DrillInfo }) {
  const { definition, character } = useCharacter();
  const [figure] = info.figures;
  if (!figure) return null;
  const { report } = figure;
  const labelOf = (role: string) => definition.roles.find(({ id }) => id === role)?.label ?? role;
  const lost = Object.entries(report.lostShoulderMetres);
  const fingers = report.riding.filter((role) => /Thumb|Index|Middle|Ring|Little/.test(role));
  const others = report.riding.filter((role) => !fingers.includes(role));
  const notes = [
    `Legs ${report.legRatio.toFixed(2)} × the source's; travel scales with them.`,
    ...lost.map(
      ([role, metres]) =>
        `${labelOf(role)}: no collar here; the source's moves it by up to ${centimetresText(metres)}.`,
    ),
    ...(others.length > 0 ? [`Not told by the source, ride along: ${others.map(labelOf).join(', ')}.`] : []),
    ...(fingers.length > 0 ? [`${fingers.length} finger bones are not told by the source.`] : []),
    ...(report.twist.length > 0
      ? [`Twist bones driven: ${report.twist.map(({ boneIndex }) => character.rig.bones[boneIndex].name).join(', ')}.`]
      : []),
  ];
  return (
    <ul className="quiet grid max-h-24 gap-0.5 overflow-auto">
      {notes.map((note) => (
        <li key={note}>{note}</li>
      ))}
    </ul>
  );
}

/** What the motion was made from. */
function Origin({ motion }: { motion: MotionView }) {
  if (motion.kind === 'house')
    return (
      <p className="quiet">of the house set: {houseLabel(motion.house.entry)}, made for this studio&rsquo;s shelf.</p>
    );
  if (motion.kind === 'kept')
    return (
      <p className="quiet">kept as a motion, {motion.durationSeconds.toFixed(1)} s; it has no skeleton of its own.</p>
    );
  return (
    <p className="quiet">
      from <span className="font-mono text-xs">{motion.fileName}</span>
      {motion.clipName !== 'motion' && `, take ${motion.clipName}`}; reference: {motion.reference}.{' '}
      {motion.fitCharacterId !== motion.characterId && `Same skeleton as ${motion.fitCharacterName}. `}
      Its skeleton:{' '}
      <Link className="link link-primary" href={`/characters/${motion.fitCharacterId}/match`}>
        match
      </Link>
      {motion.doubts > 0 && <span className="text-warning"> ({doubtText(motion)})</span>},{' '}
      <Link className="link link-primary" href={`/characters/${motion.fitCharacterId}/posture`}>
        posture
      </Link>
    </p>
  );
}

const houseLabel = (entry: string): string => HOUSE_SET.find(({ id }) => id === entry)?.label ?? entry;
