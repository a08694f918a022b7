'use client';

import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { Vec3 } from '@/core/math/vec3';
import { slugOf } from '@/core/text/slug';
import { download } from '@/ui/download';
import { isPlainKey, useKeyDown } from '@/ui/use-key-down';
import { ProblemNote } from '@/ui/ProblemNote';
import { useListening } from '@/ui/use-listening';
import type { Companion, DrawnPath } from '@/ui/stage/overlay-types';
import type { GuestFigure } from '@/ui/stage/Stage';
import type { StageView } from '@/ui/stage/stage-view';
import { hasOwnFigure } from '@/workers/browser/drill-source';
import { useCharacter } from '../character/character-context';
import { CharacterStage } from '../character/CharacterStage';
import { useSelection } from '../character/use-selection';
import { CarryPanel } from './CarryPanel';
import { addressOf, chosenMotion } from './chosen-motion';
import { asideOf, companionBones, houseBones } from './companions';
import { contactChange, hasSetContacts } from './contact-steps';
import { ContactLanes } from './ContactLanes';
import { DrillSwitches } from './DrillSwitches';
import { EditPanel } from './EditPanel';
import { GaitPanel, HouseNote } from './GaitPanel';
import { MotionList } from './MotionList';
import { MotionPanel } from './MotionPanel';
import { Transport } from './Transport';
import { TroublePanel } from './TroublePanel';
import { useCarried } from './use-carried';
import { useDrillRequest } from './use-drill-request';
import { useDrillAddress, writeDrill } from './use-drill-address';
import { useLastDrill } from './use-last-drill';
import { usePlayer } from './use-player';
import { useShelf } from './use-shelf';

/** A motion on the character, beside what it was read from: carried in a worker, played on the stage. */
export function DrillStep() {
  useListening('drill');
  const { character, fit } = useCharacter();
  const { view, bone } = useSelection();
  const address = useDrillAddress();
  useLastDrill(character.id);
  const shelf = useShelf();
  const [hovered, setHovered] = useState<number | null>(null);
  const { motion: wanted, set } = address;
  const chosen = useMemo(
    () => chosenMotion({ motion: wanted, set }, shelf.list, character.rig),
    [wanted, set, shelf.list, character.rig],
  );
  const motion = chosen?.kind === 'shelf' ? chosen.motion : null;
  const { request, others, isHumanoid } = useDrillRequest(chosen, shelf, address.others);
  const { carried, isOld, problem } = useCarried(request);
  const { frame, speed, isLooping, range } = address;
  const handle = usePlayer(carried, { frame, speed, isLooping, ...(range && { range }) });
  const { player, onFrame } = handle;
  useDrillKeys(handle);

  const companions = useMemo<Companion[]>(() => {
    if (!request) return [];
    const nothing = new Float32Array(0);
    const source: Companion = {
      label: hasOwnFigure(request.source) ? (motion ? `source: ${motion.name}` : 'source') : 'house figure',
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

  const shows = useRef({ hasSource: true, follows: true });
  useEffect(() => {
    shows.current = { hasSource: address.source !== 'off', follows: address.follows };
    player?.redraw();
  }, [address.source, address.follows, player]);
  const hips = fit.state.assignments.hips?.boneIndex ?? 0;
  const bones = character.rig.bones.length;
  const attach = useCallback(
    (stage: StageView) => {
      if (!carried) {
        stage.play(null);
        return () => undefined;
      }
      const { figures } = carried.info;
      const stop = onFrame(({ block, at }) => {
        const [figure, ...rest] = block.figures;
        const start = at * bones * 3;
        const points = figure.points.subarray(start, start + bones * 3);
        const { turned, placed, morphs } = figures[0];
        const { hasSource, follows } = shows.current;
        const sourceJoints = block.source.length / Math.max(1, block.count);
        stage.play({
          turned: { bones: turned, values: figure.rotations, at: at * turned.length * 4 },
          placed: { bones: placed, values: figure.translations, at: at * placed.length * 3 },
          morphs: { names: morphs, values: figure.morphs, at: at * morphs.length },
          points,
          companions: [
            ...(hasSource ? [block.source.subarray(at * sourceJoints, (at + 1) * sourceJoints)] : []),
            ...rest.map((each) => {
              const joints = each.points.length / Math.max(1, block.count);
              return each.points.subarray(at * joints, (at + 1) * joints);
            }),
          ],
          guests: rest.map((each, which) => {
            const of = figures[which + 1];
            return {
              turned: { bones: of.turned, values: each.rotations, at: at * of.turned.length * 4 },
              placed: { bones: of.placed, values: each.translations, at: at * of.placed.length * 3 },
              morphs: { names: of.morphs, values: each.morphs, at: at * of.morphs.length },
            };
          }),
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

  return (
    <div className="grid h-full min-h-0 grid-cols-[300px_1fr]">
      <main className="flex min-h-0 flex-col border-r border-base-300 bg-base-100">
        <MotionList
          rig={character.rig}
          shelf={shelf}
          chosen={chosen}
          onChoose={(id) => writeDrill({ motion: id, frame: 0, range: null, set: null })}
          onShelve={(clip) => void shelf.shelve(character.id, [clip])}
        />
        <div className="max-h-[60%] shrink-0 overflow-auto">
          {motion && (
            <MotionPanel
              key={motion.id}
              motion={motion}
              info={carried?.info ?? null}
              onChange={(change) => void shelf.change(motion, change)}
              onSave={
                carried &&
                (() => void carried.file().then((bytes) => download(bytes, `${slugOf(motion.name)}.yarvomotion`)))
              }
            />
          )}
          {chosen && chosen.kind !== 'own' && chosen.house?.settings && (
            <GaitPanel
              key={addressOf(chosen)}
              house={chosen.house}
              motion={motion}
              remarks={carried?.info.remarks ?? []}
              shelf={shelf}
            />
          )}
          {chosen?.kind === 'house' && !chosen.house.settings && <HouseNote entry={chosen.house.entry} shelf={shelf} />}
          {carried && player && <TroublePanel carried={carried} player={player} />}
          {motion && carried && player && (
            <EditPanel key={`edits ${motion.id}`} motion={motion} carried={carried} player={player} shelf={shelf} />
          )}
          {chosen?.kind === 'own' ? (
            <p className="quiet border-t border-base-300 px-4 py-2 text-[13px]">
              This clip is in the character&rsquo;s own file and plays as it is there. Shelve it to carry it to others.
            </p>
          ) : (
            <CarryPanel info={carried?.info ?? null} />
          )}
        </div>
      </main>
      <div className="flex min-h-0 min-w-0 flex-col">
        {shelf.problem && <ProblemNote problem={shelf.problem} onClose={shelf.dismiss} />}
        {problem && <ProblemNote problem={problem} />}
        <PostureHint />
        <DrillSwitches address={address} characterId={character.id} />
        <div className="relative grid min-h-0 flex-1">
          <CharacterStage
            selected={bone}
            hovered={hovered}
            onPick={() => undefined}
            onHover={setHovered}
            companions={companions}
            guests={guests}
            paths={paths}
            attach={attach}
          />
          <StageNote
            hasChoice={chosen !== null}
            isFetching={shelf.list === null}
            isHumanoid={isHumanoid}
            isOld={isOld}
            isFirst={carried === null}
            hasProblem={problem !== null}
          />
        </div>
        {carried && player && (
          <>
            <Transport key={carried.key} handle={handle} info={carried.info} />
            <ContactLanes
              handle={handle}
              frameCount={carried.info.frameCount}
              contacts={carried.info.contacts}
              isEdited={motion !== null && hasSetContacts(motion)}
              onChange={motion ? (contacts) => void shelf.change(motion, contactChange(motion, contacts)) : null}
            />
          </>
        )}
      </div>
    </div>
  );
}

/** What the stage waits for, or why nothing plays. */
function StageNote({
  hasChoice,
  isFetching,
  isHumanoid,
  isOld,
  isFirst,
  hasProblem,
}: {
  readonly hasChoice: boolean;
  readonly isFetching: boolean;
  readonly isHumanoid: boolean;
  readonly isOld: boolean;
  readonly isFirst: boolean;
  readonly hasProblem: boolean;
}) {
  const text = !isHumanoid
    ? 'No hips are assigned, so no motion can be carried to this character. Assign them on Match.'
    : hasProblem
      ? null
      : !hasChoice
        ? isFetching
          ? 'Fetching the motions …'
          : 'No motion yet: add files on the left, or shelve a clip of another character.'
        : isOld
          ? isFirst
            ? 'Carrying the motion …'
            : 'Older than the fit: being carried again …'
          : null;
  if (!text) return null;
  return (
    <p
      role="status"
      className="absolute top-2 left-1/2 z-10 -translate-x-1/2 rounded-box border border-base-300 bg-base-100 px-3 py-1 text-[13px]"
    >
      {text}
    </p>
  );
}

/** Motion is told against the reference pose: a figure that does not stand in it moves as far off. */
function PostureHint() {
  const { fit, act } = useCharacter();
  const off = fit.deviations.filter(({ alignment, isWithin }) => alignment !== 'leave' && !isWithin);
  if (off.length === 0 || fit.state.isClosed) return null;
  const worst = Math.max(...off.map(({ deviationRad }) => deviationRad));
  return (
    <p className="flex items-center gap-3 border-b border-base-300 bg-(--accent-wash) px-3 py-1 text-[13px]">
      {off.length} {off.length === 1 ? 'role stands' : 'roles stand'} off the reference pose, by up to{' '}
      {((worst * 180) / Math.PI).toFixed(1)}°; every motion is off by as much.
      <button className="btn ml-auto btn-xs" onClick={() => act({ kind: 'align-posture' })}>
        Align all
      </button>
    </p>
  );
}

function useDrillKeys({ player }: ReturnType<typeof usePlayer>): void {
  useKeyDown((event) => {
    if (!player || !isPlainKey(event)) return;
    const isButton = event.target instanceof HTMLButtonElement || event.target instanceof HTMLAnchorElement;
    const { range, frame, isLooping } = player.current;
    const mark = (next: typeof range) => {
      player.setRange(next);
      writeDrill({ range: next });
    };
    switch (event.key) {
      case ' ':
        // A button in focus takes the space bar itself.
        if (isButton) return;
        player.toggle();
        break;
      case 'ArrowLeft':
      case 'ArrowRight':
        player.step((event.key === 'ArrowRight' ? 1 : -1) * (event.shiftKey ? 10 : 1));
        break;
      case 'Home':
        player.seek(range.from);
        break;
      case 'End':
        player.seek(range.to);
        break;
      case '[':
        mark({ from: frame, to: Math.max(frame, range.to) });
        break;
      case ']':
        mark({ from: Math.min(frame, range.from), to: frame });
        break;
      case 'l':
        player.setLooping(!isLooping);
        writeDrill({ isLooping: !isLooping });
        break;
      default:
        return;
    }
    event.preventDefault();
    if (!player.current.isPlaying) writeDrill({ frame: player.current.frame });
  });
}
