'use client';

import { useCallback, useEffect, useMemo, useState } from 'react';
import { HOUSE_SET } from '@/core/house/house-set';
import { NO_ROOT_TRAVEL } from '@/core/motion/carry-options';
import { MOST_FRAMES } from '@/core/motion/frame-times';
import { rangeOf } from '@/core/drill/judge/measure';
import type { RigPose } from '@/core/rig/pose';
import { countText } from '@/core/text/count';
import { Choice } from '@/ui/Choice';
import { ProblemNote } from '@/ui/ProblemNote';
import type { StageView } from '@/ui/stage/stage-view';
import { useCharacter } from '../character/character-context';
import { CharacterStage } from '../character/CharacterStage';
import { bandText, valueText } from '../drill/chart/lanes';
import { houseMotionId } from '../drill/chosen-motion';
import { houseSource, targetOf } from '../drill/drill-subject';
import { playedFigure } from '../drill/played-figure';
import { useCarried, type DrillRequest } from '../drill/use-carried';
import { usePlayer } from '../drill/use-player';
import { useWatched, type WatchedState } from './use-watched';

/** What is watched while a pose is corrected: a row each, the measures it is taken from, and which end counts. */
const WATCHED = [
  { label: 'Soles that bear, off the floor', measures: /^sole\.(left|right)$/, end: 'far' },
  { label: 'Soles under the floor', measures: /^sink\./, end: 'least' },
  { label: 'Left against right', measures: /^sole\.difference$/, end: 'far' },
  { label: 'Slide', measures: /^slide\./, end: 'most' },
  { label: 'Hand to thigh', measures: /^handThigh\./, end: 'least' },
  { label: 'Hand to trunk', measures: /^handTrunk\./, end: 'least' },
  { label: 'Forearm to trunk', measures: /^armTrunk\./, end: 'least' },
  { label: 'Knee to knee', measures: /^knees$/, end: 'least' },
] as const;

const VIEWS = ['front', 'side'] as const;

/** A looping motion of the house set on the pose under hand, with what matters about it measured after every step. */
export function InMotion({ pose }: { readonly pose: RigPose }) {
  const { character, definition, fit } = useCharacter();
  const [entry, setEntry] = useState('walk');
  const [view, setView] = useState<(typeof VIEWS)[number]>('side');
  const { rotations, shift } = pose;
  const poseKey = JSON.stringify([rotations, shift]);
  // The same for every pose: it is made once.
  const source = useMemo(() => {
    const house = HOUSE_SET.find(({ id }) => id === entry);
    return house ? houseSource({ entry, settings: house.settings }, definition, MOST_FRAMES) : null;
  }, [entry, definition]);
  const request = useMemo<DrillRequest | null>(() => {
    if (!source || !fit.state.assignments.hips) return null;
    const [turns, moved] = JSON.parse(poseKey) as [RigPose['rotations'], RigPose['shift']];
    const motionId = houseMotionId(entry);
    const own = targetOf(character, definition, fit, NO_ROOT_TRAVEL, motionId);
    return {
      motionId,
      key: `${motionId} ${fit.revision} ${poseKey}`,
      source,
      targets: [{ ...own, target: { ...own.target, pose: { rotations: turns, shift: moved } } }],
    };
  }, [source, entry, character, definition, fit, poseKey]);
  const { carried, problem } = useCarried(request);
  const { player, onFrame } = usePlayer(carried, START);
  const watched = useWatched(carried);
  useEffect(() => {
    if (player && !player.current.isPlaying) player.play();
  }, [player]);
  const hips = fit.state.assignments.hips?.boneIndex ?? 0;
  const bones = character.rig.bones.length;
  const attach = useCallback(
    (stage: StageView) => {
      if (!carried) return () => undefined;
      const [info] = carried.info.figures;
      return onFrame(({ block, at }) => {
        const [figure] = block.figures;
        const points = figure.points.subarray(at * bones * 3, (at + 1) * bones * 3);
        stage.play({
          ...playedFigure(info, figure, at),
          points,
          companions: [],
          guests: [],
          bearing: figure.bearing.subarray(at * info.bearing.length * 3, (at + 1) * info.bearing.length * 3),
          capsule: null,
          hips: [points[hips * 3], points[hips * 3 + 1], points[hips * 3 + 2]],
          rise: info.hipsTop - points[hips * 3 + 1],
          follows: true,
        });
      });
    },
    [carried, onFrame, bones, hips],
  );
  const views = useMemo(() => [view], [view]);
  if (!request)
    return (
      <p className="quiet p-4 text-[13px]">No hips are assigned, so nothing can be played. Assign them on Match.</p>
    );
  return (
    <section aria-label="In motion" className="flex min-h-0 flex-1 flex-col border-t border-base-300 text-[13px]">
      <div className="flex items-center gap-2 px-3 py-1">
        <select
          aria-label="Motion that is played"
          className="select min-w-0 flex-1 select-xs"
          value={entry}
          onChange={(event) => setEntry(event.target.value)}
        >
          {HOUSE_SET.map(({ id, label }) => (
            <option key={id} value={id}>
              {label}
            </option>
          ))}
        </select>
        {VIEWS.map((each) => (
          <Choice key={each} isOn={view === each} onClick={() => setView(each)}>
            {each === 'front' ? 'Front' : 'Side'}
          </Choice>
        ))}
      </div>
      {problem && <ProblemNote problem={problem} />}
      <div className="grid min-h-48 flex-1">
        <CharacterStage
          selected={null}
          hovered={null}
          onPick={() => undefined}
          onHover={() => undefined}
          views={views}
          pose={pose}
          attach={attach}
        />
      </div>
      <Watched {...watched} />
    </section>
  );
}

const START = { frame: 0, speed: 1, isLooping: true } as const;

function Watched({ watched, isOld, hasFailed }: WatchedState) {
  if (hasFailed) return <p className="px-3 py-2">It could not be measured. Choose the motion again.</p>;
  if (!watched) return <p className="quiet px-3 py-2">Measuring …</p>;
  const { leg } = watched;
  return (
    <div aria-busy={isOld} className={`px-3 py-1.5 ${isOld ? 'opacity-60' : ''}`}>
      <table className="w-full">
        <tbody>
          {WATCHED.map(({ label, measures, end }) => {
            const own = watched.measures.filter(({ name }) => measures.test(name));
            const ranges = own.flatMap(({ values }) => rangeOf(values) ?? []);
            if (ranges.length === 0) return null;
            const [low, high] = [Math.min(...ranges.map(({ min }) => min)), Math.max(...ranges.map(({ max }) => max))];
            const value = end === 'least' ? low : end === 'most' ? high : -low > high ? low : high;
            const [{ band, unit }] = own;
            const isOut = band !== null && (value < band[0] || value > band[1]);
            return (
              <tr key={label}>
                <td>{label}</td>
                <td
                  className={`text-right font-mono text-xs tabular-nums ${isOut ? 'font-semibold text-warning' : ''}`}
                >
                  {valueText(value, unit, leg)}
                </td>
                <td className="quiet pl-3 text-xs tabular-nums">{bandText(band, unit, leg)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p role="status" className="quiet">
        {isOld
          ? 'measuring again …'
          : watched.out.length === 0
            ? 'Everything stays within its limits.'
            : `${countText(watched.out.length, 'measure')} out of limits. The Drill shows where and why.`}
      </p>
    </div>
  );
}
