import { useCallback, useEffect, useMemo, useRef } from 'react';
import type { CharacterView } from '@/contract/character-view';
import type { MotionView } from '@/contract/motions';
import type { Vec3 } from '@/core/math/vec3';
import { ROOT_COMPONENTS } from '@/core/motion/carry-options';
import { wayPlace } from '@/core/motion/root-way';
import type { Companion, DrawnPath } from '@/ui/stage/overlay-types';
import type { GuestFigure } from '@/ui/stage/Stage';
import type { StageView } from '@/ui/stage/stage-view';
import { hasOwnFigure } from '@/workers/browser/drill-source';
import { useCharacter } from '../character/character-context';
import { useSelection } from '../character/use-selection';
import { capsuleBases, capsuleOf } from './capsule';
import { asideOf, companionBones, houseBones } from './companions';
import { playedFigure } from './played-figure';
import type { Carried, DrillRequest } from './use-carried';
import type { DrillAddress } from './use-drill-address';
import type { PlayerHandle } from './use-player';

interface DrillStageInput {
  readonly request: DrillRequest | null;
  readonly others: readonly CharacterView[];
  readonly motion: MotionView | null;
  readonly carried: Carried | null;
  readonly address: DrillAddress;
  readonly handle: PlayerHandle;
}

/** Everything that the stage of the Drill shows beside the character, and how frames come to it. */
export function useDrillStage({ request, others, motion, carried, address, handle }: DrillStageInput) {
  const { character, definition, fit } = useCharacter();
  const { view } = useSelection();
  const { player, onFrame } = handle;
  const companions = useMemo<Companion[]>(() => {
    if (!request) return [];
    const nothing = new Float32Array(0);
    const source: Companion = {
      label: sourceLabel(request.source, motion),
      bones:
        request.source.madeFrom.kind === 'clip' && hasOwnFigure(request.source)
          ? companionBones(request.source.madeFrom.fitted)
          : houseBones(),
      points: nothing,
      offset: address.source === 'beside' ? asideOf(view, address.gap, -1) : ([0, 0, 0] as Vec3),
      isDashed: true,
    };
    const company = request.targets.slice(1).map(({ target }, at): Companion => ({
      label: others[at]?.name ?? '',
      bones: companionBones(target),
      points: nothing,
      offset: asideOf(view, address.gap, at + 1),
      isDashed: false,
    }));
    return [...(address.source === 'off' ? [] : [source]), ...company];
  }, [request, motion, address.source, address.gap, others, view]);
  const guests = useMemo<GuestFigure[]>(
    () =>
      (request?.targets.slice(1) ?? []).flatMap(({ target }, at) => {
        const other = others[at];
        if (!other) return [];
        const { rig, normalisation, pose } = target;
        const modelUrl = `/api/characters/${other.id}/model/${other.modelHash}`;
        return [{ modelUrl, rig, normalisation, pose, offset: asideOf(view, address.gap, at + 1) }];
      }),
    [request, others, address.gap, view],
  );
  const paths = useMemo<DrawnPath[]>(() => {
    const figure = carried?.info.figures[0];
    if (!figure) return [];
    const root: DrawnPath[] = figure.rootPath ? [{ points: figure.rootPath, look: 'root' }] : [];
    return [{ points: figure.hipsPath, look: 'hips' }, ...root];
  }, [carried]);

  const size = useMemo(() => capsuleOf(character, definition, fit), [character, definition, fit]);
  const followed = address.capsule?.join() ?? null;
  const capsule = useMemo(() => {
    const way = carried?.info.figures[0]?.way;
    if (followed === null || !way) return null;
    const components = ROOT_COMPONENTS.filter((each) => followed.split(',').includes(each));
    return { ...size, bases: capsuleBases(way, components, size), components };
  }, [followed, carried, size]);
  const shows = useRef({ hasSource: true, follows: true, capsule });
  useEffect(() => {
    shows.current = { hasSource: address.source !== 'off', follows: address.follows, capsule };
    player?.redraw();
  }, [address.source, address.follows, capsule, player]);
  const hips = fit.state.assignments.hips?.boneIndex ?? 0;
  const bones = character.rig.bones.length;
  const attach = useCallback(
    (stage: StageView) => {
      if (!carried) {
        stage.play(null);
        return () => undefined;
      }
      const { figures } = carried.info;
      const stop = onFrame(({ block, at, frame }) => {
        const [figure, ...rest] = block.figures;
        const start = at * bones * 3;
        const points = figure.points.subarray(start, start + bones * 3);
        const { hasSource, follows, capsule: shown } = shows.current;
        const sourceJoints = block.source.length / Math.max(1, block.count);
        stage.play({
          ...playedFigure(figures[0], figure, at),
          points,
          companions: [
            ...(hasSource ? [block.source.subarray(at * sourceJoints, (at + 1) * sourceJoints)] : []),
            ...rest.map((each) => {
              const joints = each.points.length / Math.max(1, block.count);
              return each.points.subarray(at * joints, (at + 1) * joints);
            }),
          ],
          guests: rest.map((each, which) => playedFigure(figures[which + 1], each, at)),
          bearing: figure.bearing.subarray(
            at * figures[0].bearing.length * 3,
            (at + 1) * figures[0].bearing.length * 3,
          ),
          capsule: shown && wayPlace(figures[0].way, frame, shown.components),
          hips: [points[hips * 3], points[hips * 3 + 1], points[hips * 3 + 2]],
          rise: figures[0].hipsTop - points[hips * 3 + 1],
          follows,
        });
      });
      // Until the next one is there, what plays stays.
      return stop;
    },
    [carried, onFrame, bones, hips],
  );
  return { companions, guests, paths, capsule, size, attach };
}

/** Whose motion it is, and on which figure it stands beside where its own cannot. */
function sourceLabel(source: DrillRequest['source'], motion: MotionView | null): string {
  if (source.madeFrom.kind === 'house' || !motion) return hasOwnFigure(source) ? 'source' : 'house figure';
  return hasOwnFigure(source) ? `source: ${motion.name}` : `source: ${motion.name}, on the house figure`;
}
