'use client';

import { useEffect, useMemo, useRef, useState, type ReactNode, type RefObject } from 'react';
import { toBody, type Normalisation } from '@/core/frame/normalise';
import type { RepairOutlook } from '@/core/intake/plan-repair';
import { compose, multiply } from '@/core/math/mat4';
import type { Quat } from '@/core/math/quat';
import { lerp, type Vec3 } from '@/core/math/vec3';
import { computeWorlds, REST_POSE, type RigPose } from '@/core/rig/pose';
import type { Rig } from '@/core/rig/rig';
import type { StageMesh } from './figure';
import { openGuestModel, openModel, type StageModel } from './load-model';
import type {
  AssumedHinge,
  Companion,
  DrawnCapsule,
  DrawnPath,
  PlannedChange,
  StageBone,
  TurnHandle,
} from './overlay-types';
import type { PaneView } from './projection';
import type { StageGhost, StageGuest } from './figure-set';
import { StageView } from './stage-view';

/** A further character, by the address of its model. */
export interface GuestFigure extends Omit<StageGuest, 'model'> {
  readonly modelUrl: string;
}

export interface StageProps {
  readonly rig: Rig;
  readonly normalisation: Normalisation;
  readonly pose: RigPose;
  /** Side of each mapped bone, by bone index; bones missing here are spares. */
  readonly sides: ReadonlyMap<number, 'left' | 'right' | 'centre'>;
  readonly modelUrl: string;
  readonly views: readonly PaneView[];
  readonly mesh: StageMesh;
  readonly selected: number | null;
  /** Bones that are picked along with the selected one. */
  readonly alsoPicked?: ReadonlySet<number>;
  readonly hovered: number | null;
  readonly highlighted?: ReadonlySet<number>;
  /** Draw the file's own rest dashed behind the pose. */
  readonly showBefore?: boolean;
  /** Poses to show as pale copies. */
  readonly ghosts?: readonly StageGhost[];
  /** Handles to turn a segment by, by the view they are in. */
  readonly handles?: ReadonlyMap<PaneView, TurnHandle>;
  /** Pins through joints whose fold is assumed. */
  readonly hinges?: readonly AssumedHinge[];
  /** Size of the joints' rings, 1 as usual. */
  readonly jointScale?: number;
  readonly hasLabels?: boolean;
  /** The only bones to draw; null for all. */
  readonly isolated?: ReadonlySet<number> | null;
  /** Joints to show close up; null for the whole figure. */
  readonly focus?: readonly number[] | null;
  /** A change of the tree to show before it is made. */
  readonly outlook?: RepairOutlook | null;
  readonly onPick: (bone: number | null, isMore: boolean) => void;
  readonly onHover: (bone: number | null) => void;
  readonly onTurn?: (view: PaneView, degrees: number, isDone: boolean) => void;
  /** A point that bears was dragged, by metres in body axes; left out where they cannot be. */
  readonly onBearing?: (point: number, by: Vec3) => void;
  /** Other skeletons beside the character. */
  readonly companions?: readonly Companion[];
  /** Other characters with their meshes. */
  readonly guests?: readonly GuestFigure[];
  /** Ways on the floor. */
  readonly paths?: readonly DrawnPath[];
  /** What a game moves the character by, and its way; null for none. */
  readonly capsule?: Omit<DrawnCapsule, 'now'> | null;
  /** Plays a motion on the stage, once it is there; returns how it is taken off. */
  readonly attach?: (stage: StageView) => () => void;
  /** What stands in the bar below the stage. */
  readonly switches?: ReactNode;
}

const NO_BONES: ReadonlySet<number> = new Set();
const NO_GHOSTS: readonly StageGhost[] = [];
const NO_HINGES: readonly AssumedHinge[] = [];
const NO_COMPANIONS: readonly Companion[] = [];
const NO_PLACES = new Float64Array(0);
const NO_PATHS: readonly DrawnPath[] = [];
const NO_GUESTS: readonly GuestFigure[] = [];
const NO_HANDLES: ReadonlyMap<PaneView, TurnHandle> = new Map();

/** Mesh, skeleton and floor of one character. Everything it shows is also in the ledger, for those who do not see it. */
export function Stage(props: StageProps) {
  const { rig, normalisation, pose, sides, modelUrl, views, mesh, selected, hovered, showBefore, onPick, onHover } =
    props;
  const {
    highlighted = NO_BONES,
    alsoPicked = NO_BONES,
    ghosts = NO_GHOSTS,
    handles = NO_HANDLES,
    hinges = NO_HINGES,
    companions = NO_COMPANIONS,
    paths = NO_PATHS,
    guests = NO_GUESTS,
    capsule: given = null,
    attach,
  } = props;
  const capsule = useMemo<DrawnCapsule | null>(() => given && { ...given, now: null }, [given]);
  const { jointScale = 1, hasLabels = false, isolated = null, focus = null, outlook = null } = props;
  const { onTurn, onBearing } = props;
  /** Joints that lie on one another under the pointer, to choose from. */
  const [tied, setTied] = useState<{ bones: readonly number[]; x: number; y: number } | null>(null);
  const container = useRef<HTMLDivElement>(null);
  const view = useRef<StageView | null>(null);
  const callbacks = useRef({ onPick, onHover, onTurn, onBearing });
  const [model, setModel] = useState<'loading' | 'ready' | 'failed'>('loading');
  const extent = useMemo(() => extentOf(rig, normalisation), [rig, normalisation]);
  const bones = useMemo(() => stageBones(rig, sides), [rig, sides]);
  const points = useMemo(() => pointsOf(rig, normalisation, pose), [rig, normalisation, pose]);
  const before = useMemo(
    () => (showBefore ? pointsOf(rig, normalisation, REST_POSE) : null),
    [showBefore, rig, normalisation],
  );
  const planned = useMemo(() => (outlook ? plannedChange(outlook, points) : null), [outlook, points]);

  useEffect(() => {
    callbacks.current = { onPick, onHover, onTurn, onBearing };
  }, [onPick, onHover, onTurn, onBearing]);

  useEffect(() => {
    if (!container.current) return;
    const stage = new StageView(container.current, {
      onPick: (bone, isMore) => {
        setTied(null);
        callbacks.current.onPick(bone, isMore);
      },
      onHover: (bone) => callbacks.current.onHover(bone),
      onPickTied: (tiedBones, x, y) => setTied({ bones: tiedBones, x, y }),
      onTurn: (pane, degrees, isDone) => callbacks.current.onTurn?.(pane, degrees, isDone),
      onBearing: () => callbacks.current.onBearing ?? null,
    });
    view.current = stage;
    stage.setNormalisation(normalisation);
    stage.setExtent(extent);
    let isGone = false;
    const opened = openModel(modelUrl);
    opened.model.then(
      (loaded) => {
        if (isGone) return;
        stage.setModel(loaded, rig);
        setModel('ready');
      },
      () => {
        if (!isGone) setModel('failed');
      },
    );
    return () => {
      isGone = true;
      view.current = null;
      stage.dispose();
      opened.close();
      setModel('loading');
    };
  }, [modelUrl, rig, normalisation, extent]);

  useEffect(() => view.current?.setViews(views), [views, model]);
  useEffect(() => view.current?.setMesh(mesh), [mesh, model]);
  // Handed over with each drawing of the page: the stage itself knows whether anything of it changed.
  useEffect(() =>
    view.current?.setState({
      bones,
      points,
      before,
      selected,
      alsoPicked,
      hovered,
      highlighted,
      jointScale,
      hasLabels,
      isolated,
      planned,
      handles,
      hinges,
      companions,
      paths,
      capsule,
      bearing: NO_PLACES,
    }),
  );
  // By content: the same joints handed over anew must not undo where a person moved the camera.
  const focusKey = focus?.join() ?? '';
  useEffect(() => view.current?.focusOn(focusKey === '' ? null : focusKey.split(',').map(Number)), [focusKey, model]);
  useEffect(() => view.current?.setPose(pose), [pose, model]);
  useEffect(() => view.current?.setGhosts(ghosts), [ghosts, model]);
  useGuests(view, guests, model);
  useEffect(() => (attach && view.current ? attach(view.current) : undefined), [attach, model]);

  return (
    <div className="flex size-full min-h-0 min-w-0 flex-col" data-stage={model}>
      <div className="relative min-h-0 flex-1 overflow-hidden bg-(--stage-ground)">
        <div ref={container} className="absolute inset-0" />
        {model === 'loading' && (
          <p className="quiet pointer-events-none absolute bottom-2 left-3 text-[13px]" role="status">
            Loading the mesh …
          </p>
        )}
        {model === 'failed' && (
          <p className="absolute bottom-2 left-3 text-[13px] text-error" role="alert">
            The mesh could not be drawn here. The skeleton is shown; reload to try again.
          </p>
        )}
        {tied && (
          <TiedList
            tied={tied}
            rig={rig}
            onPick={(bone) => {
              setTied(null);
              onPick(bone, false);
            }}
            onHover={onHover}
            onClose={() => setTied(null)}
          />
        )}
      </div>
      <div className="@container flex h-8 shrink-0 items-center gap-3 border-t border-base-300 bg-base-100 px-2 text-[13px]">
        {props.switches}
        <button className="btn ml-auto btn-ghost btn-xs" onClick={() => view.current?.fit()}>
          Fit to view
        </button>
      </div>
    </div>
  );
}

/** Loads the models of the guests, and puts those that are there on the stage. */
function useGuests(
  view: RefObject<StageView | null>,
  guests: readonly GuestFigure[],
  model: 'loading' | 'ready' | 'failed',
): void {
  const urls = guests.map(({ modelUrl }) => modelUrl).join('\n');
  const [loaded, setLoaded] = useState<ReadonlyMap<string, StageModel>>(new Map());
  useEffect(() => {
    let isGone = false;
    const opened = urls === '' ? [] : urls.split('\n').map((url) => ({ url, ...openGuestModel(url) }));
    void Promise.all(
      // A mesh that cannot be drawn leaves the skeleton.
      opened.map(({ url, model: coming }) => coming.then((ready) => [[url, ready] as const]).catch(() => [])),
    ).then((found) => {
      if (!isGone) setLoaded(new Map(found.flat()));
    });
    return () => {
      isGone = true;
      setLoaded(new Map());
      for (const { close } of opened) close();
    };
  }, [urls]);
  useEffect(() => {
    if (model === 'loading') return;
    const shown = guests.flatMap(({ modelUrl, ...guest }) => {
      const there = loaded.get(modelUrl);
      return there ? [{ ...guest, model: there }] : [];
    });
    // All or none: frames of a motion come in the order of the guests.
    view.current?.setGuests(shown.length === guests.length ? shown : []);
  }, [view, guests, loaded, model]);
}

interface TiedListProps {
  readonly tied: { readonly bones: readonly number[]; readonly x: number; readonly y: number };
  readonly rig: Rig;
  readonly onPick: (bone: number) => void;
  readonly onHover: (bone: number | null) => void;
  readonly onClose: () => void;
}

/** Joints that lie on one another: a click cannot tell them apart, so it asks. */
function TiedList({ tied, rig, onPick, onHover, onClose }: TiedListProps) {
  return (
    <ul
      aria-label="Joints under the pointer"
      className="absolute z-20 max-h-60 w-56 overflow-auto rounded-box border border-base-300 bg-base-100 p-1 text-[13px] shadow-md"
      style={{ left: `min(${tied.x + 8}px, calc(100% - 15rem))`, top: `min(${tied.y}px, calc(100% - 8rem))` }}
      onKeyDown={(event) => {
        if (event.key === 'Escape') onClose();
      }}
    >
      {tied.bones.map((bone, at) => (
        <li key={bone}>
          <button
            autoFocus={at === 0}
            className="w-full truncate rounded-field px-2 py-0.5 text-left font-mono hover:bg-base-200"
            onPointerEnter={() => onHover(bone)}
            onClick={() => onPick(bone)}
          >
            {rig.bones[bone].name}{' '}
            <span className="quiet">
              {rig.bones[bone].skinVertexCount > 0 ? `${rig.bones[bone].skinVertexCount} vertices` : 'no vertices'}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}

/** Corners of the mesh's bounds, metres. */
function extentOf({ mesh }: Rig, normalisation: Normalisation): Vec3[] {
  if (!mesh.bounds) return [];
  const { min, max } = mesh.bounds;
  return [0, 1, 2, 3, 4, 5, 6, 7].map((corner) =>
    toBody(normalisation, [0, 1, 2].map((axis) => ((corner >> axis) & 1 ? max : min)[axis]) as unknown as Vec3),
  );
}

/** Places of all joints in a pose, three numbers each: metres, body axes. */
function pointsOf(rig: Rig, normalisation: Normalisation, pose: RigPose): Float64Array {
  const s = normalisation.scale;
  const similarity = compose([0, 0, 0], normalisation.rotation as Quat, [s, s, s]);
  const points = new Float64Array(rig.bones.length * 3);
  computeWorlds(rig, pose).forEach((world, bone) => points.set(multiply(similarity, world).slice(12, 15), bone * 3));
  return points;
}

function stageBones(rig: Rig, sides: StageProps['sides']): StageBone[] {
  return rig.bones.map(({ index, name, parent }) => ({ index, name, parent, side: sides.get(index) ?? 'spare' }));
}

function plannedChange({ links, gone, joints }: RepairOutlook, points: Float64Array): PlannedChange {
  const at = (bone: number): Vec3 => [points[bone * 3], points[bone * 3 + 1], points[bone * 3 + 2]];
  return {
    rods: links.map(([parent, child]) => [at(parent), at(child)] as const),
    joints: joints.map(({ from, to, share }) => lerp(at(from), at(to), share)),
    gone: gone.map(at),
  };
}
