'use client';

import Link from 'next/link';
import { useMemo, useState } from 'react';
import { NO_ROOT_TRAVEL, ROOT_COMPONENTS } from '@/core/motion/carry-options';
import { slugOf } from '@/core/text/slug';
import { download } from '@/ui/download';
import { isPlainKey, useKeyDown } from '@/ui/use-key-down';
import { ProblemNote } from '@/ui/ProblemNote';
import { useListening } from '@/ui/use-listening';
import { useCharacter } from '../character/character-context';
import { CharacterStage } from '../character/CharacterStage';
import { useSelection } from '../character/use-selection';
import { CapsuleChoice } from './CapsuleChoice';
import { CarryPanel } from './CarryPanel';
import { Choice } from '@/ui/Choice';
import { addressOf, chosenMotion } from './chosen-motion';
import { DrillDock } from './DrillDock';
import { targetOf } from './drill-subject';
import { DrillSwitches } from './DrillSwitches';
import { DrillTabs } from './DrillTabs';
import { EditPanel } from './EditPanel';
import { FeetChoice } from './FeetChoice';
import { GaitPanel, HouseNote } from './GaitPanel';
import { MotionList } from './MotionList';
import { MotionPanel } from './MotionPanel';
import { TroublePanel } from './TroublePanel';
import { useBearingDrag } from './use-bearing-drag';
import { useCarried } from './use-carried';
import { LayerPanel } from './layers/LayerPanel';
import { LiveDock } from './live/LiveDock';
import { useLive } from './live/use-live';
import { useLiveMap } from './live/use-live-map';
import { TurnOffer } from './layers/TurnOffer';
import { useFrameTurn, type FrameTurn } from './layers/use-frame-turn';
import { useFlags } from './use-flags';
import { useJudged } from './use-judged';
import { useDrillRequest } from './use-drill-request';
import { useDrillAddress, writeDrill } from './use-drill-address';
import { useDrillStage } from './use-drill-stage';
import { useLastDrill } from './use-last-drill';
import { usePlayer } from './use-player';
import { useShelf } from './use-shelf';

/** A motion on the character, beside what it was read from: carried in a worker, played on the stage. */
export function DrillStep() {
  useListening('drill');
  const { character, definition, fit } = useCharacter();
  const { bone, select } = useSelection();
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
  // A turn that is shown is carried like a layer, so it stands above all that is made from what is carried.
  const turned = useState<FrameTurn | null>(null);
  const { request, others, isHumanoid } = useDrillRequest(chosen, shelf, address.others, turned[0]?.layer ?? null);
  const { carried, isOld, problem } = useCarried(request);
  const { frame, speed, isLooping, range } = address;
  const handle = usePlayer(carried, { frame, speed, isLooping, ...(range && { range }) });
  const { player } = handle;
  const motionKey = chosen && chosen.kind !== 'own' ? addressOf(chosen) : null;
  const onBearing = useBearingDrag(carried, handle);
  const { handles, onTurn, offer, drop } = useFrameTurn(carried, handle, motionKey, turned);
  const judgedState = useJudged(carried, request?.motionId ?? null);
  const { flag, choose, onNextFlag } = useFlags(judgedState, player);
  useDrillKeys(address.isLive ? { ...handle, player: null } : handle, onNextFlag);

  const flagged = useMemo(
    () => new Set(character.rig.bones.flatMap(({ name, index }) => (flag?.bones.includes(name) ? [index] : []))),
    [flag, character.rig],
  );
  const { companions, guests, paths, capsule, size, attach } = useDrillStage({
    request,
    others,
    motion,
    carried,
    address,
    handle,
  });

  const map = useLiveMap(address.isLive && isHumanoid, shelf);
  const steered = useMemo(
    () =>
      isHumanoid && fit.state.assignments.hips ? targetOf(character, definition, fit, NO_ROOT_TRAVEL, null) : null,
    [isHumanoid, character, definition, fit],
  );
  const live = useLive(map.wanted, steered, `${map.key} ${fit.revision}`);

  return (
    <div className="grid h-full min-h-0 grid-cols-[300px_1fr]">
      <main className="flex min-h-0 flex-col border-r border-base-300 bg-base-100">
        <MotionList
          rig={character.rig}
          shelf={shelf}
          chosen={chosen}
          onChoose={(id) => {
            drop();
            writeDrill({ motion: id, frame: 0, range: null, set: null });
          }}
          onShelve={(clip) => void shelf.shelve(character.id, [clip])}
        />
        <DrillTabs
          flags={judgedState.isOld ? null : (judgedState.judged?.flags.length ?? null)}
          layers={fit.state.carrying.layers.length}
          panels={{
            motion: (
              <>
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
                {chosen?.kind === 'house' && !chosen.house.settings && (
                  <HouseNote entry={chosen.house.entry} shelf={shelf} />
                )}
                {motion && carried && player && (
                  <EditPanel
                    key={`edits ${motion.id}`}
                    motion={motion}
                    carried={carried}
                    player={player}
                    shelf={shelf}
                  />
                )}
                {chosen?.kind === 'own' && (
                  <p className="quiet px-4 py-2 text-[13px]">
                    This clip is in the character&rsquo;s own file and plays as it is there. Shelve it to carry it to
                    others.
                  </p>
                )}
              </>
            ),
            troubles: <TroublePanel state={judgedState} chosen={flag} onChoose={choose} />,
            layers: <LayerPanel carried={carried} handle={handle} motionKey={motionKey} />,
            carrying: <CarryPanel info={carried?.info ?? null} />,
          }}
        />
      </main>
      <div className="flex min-h-0 min-w-0 flex-col">
        {shelf.problem && <ProblemNote problem={shelf.problem} onClose={shelf.dismiss} />}
        {problem && <ProblemNote problem={problem} />}
        {live.problem && <ProblemNote problem={live.problem} />}
        <PostureHint />
        <DrillSwitches address={address} characterId={character.id}>
          <Choice
            isOn={address.isLive}
            title="Steer the character by keyboard or gamepad"
            onClick={() => writeDrill({ isLive: !address.isLive })}
          >
            Steer
          </Choice>
          <CapsuleChoice
            components={address.capsule}
            usual={chosen && chosen.kind !== 'own' && motion ? motion.travel.components : ROOT_COMPONENTS}
            size={size}
            way={carried?.info.figures[0]?.way ?? null}
          />
          <FeetChoice info={carried?.info ?? null} />
        </DrillSwitches>
        <div className="relative grid min-h-0 flex-1">
          <CharacterStage
            selected={bone}
            highlighted={flagged}
            hovered={hovered}
            onPick={(next) => {
              drop();
              select({ bone: next });
            }}
            onTurn={onTurn}
            onBearing={onBearing}
            handles={handles}
            onHover={setHovered}
            companions={address.isLive ? NOBODY : companions}
            guests={address.isLive ? NOBODY : guests}
            paths={address.isLive ? NOBODY : paths}
            capsule={address.isLive ? null : capsule}
            attach={address.isLive ? live.attach : attach}
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
        {!address.isLive && offer && motionKey !== null && (
          <TurnOffer offer={offer} judged={judgedState.judged} flag={flag} onDone={drop} />
        )}
        {address.isLive && (
          <LiveDock
            live={live}
            nameOf={map.nameOf}
            others={map.others}
            onMove={map.onMove}
            onAdd={map.onAdd}
            onRemove={map.onRemove}
            onReset={map.onReset}
            onLeave={() => writeDrill({ isLive: false })}
          />
        )}
        {!address.isLive && carried && player && (
          <DrillDock
            carried={carried}
            handle={handle}
            motion={motion}
            shelf={shelf}
            state={judgedState}
            chosen={flag}
            onChoose={choose}
            onNext={() => onNextFlag(1)}
          />
        )}
      </div>
    </div>
  );
}

const NOBODY: readonly never[] = [];

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
  const { character, fit, act } = useCharacter();
  const off = fit.deviations.filter(({ isWithin }) => !isWithin);
  if (off.length === 0 || fit.state.isClosed) return null;
  const worst = Math.max(...off.map(({ deviationRad }) => deviationRad));
  const canAlign = off.some(({ alignment }) => alignment !== 'leave');
  return (
    <p className="flex items-center gap-3 border-b border-base-300 bg-(--accent-wash) px-3 py-1 text-[13px]">
      {off.length} {off.length === 1 ? 'role is' : 'roles are'} off the reference pose, by up to{' '}
      {((worst * 180) / Math.PI).toFixed(1)}°; every motion is off by as much.
      {canAlign ? (
        <button className="btn ml-auto btn-xs" onClick={() => act({ kind: 'align-posture' })}>
          Align all
        </button>
      ) : (
        <Link className="btn ml-auto btn-xs" href={`/characters/${character.id}/posture`}>
          Look at the posture
        </Link>
      )}
    </p>
  );
}

function useDrillKeys({ player }: ReturnType<typeof usePlayer>, onNextFlag: (step: 1 | -1) => void): void {
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
      case 'f':
      case 'F':
        onNextFlag(event.shiftKey ? -1 : 1);
        event.preventDefault();
        return;
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
