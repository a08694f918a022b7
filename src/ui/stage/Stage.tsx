'use client';

import { useEffect, useMemo, useRef, useState } from 'react';
import { multiply, compose } from '@/core/math/mat4';
import type { Quat } from '@/core/math/quat';
import { lerp, type Vec3 } from '@/core/math/vec3';
import { toBody, type Normalisation } from '@/core/frame/normalise';
import { computeWorlds, REST_POSE, type RigPose } from '@/core/rig/pose';
import type { Rig } from '@/core/rig/rig';
import { loadModel } from './load-model';
import type { PaneView } from './projection';
import type { RepairOutlook } from '@/core/intake/plan-repair';
import type { PlannedChange, StageBone } from './skeleton-overlay';
import { StageView, type StageMesh } from './stage-view';

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
  readonly hovered: number | null;
  readonly highlighted?: ReadonlySet<number>;
  /** Draw the file's own rest dashed behind the pose. */
  readonly showBefore?: boolean;
  /** Size of the joints' rings, 1 as usual. */
  readonly jointScale?: number;
  readonly hasLabels?: boolean;
  /** The only bones to draw; null for all. */
  readonly isolated?: ReadonlySet<number> | null;
  /** Joints to show close up; null for the whole figure. */
  readonly focus?: readonly number[] | null;
  /** A change of the tree to show before it is made. */
  readonly outlook?: RepairOutlook | null;
  readonly onPick: (bone: number | null) => void;
  readonly onHover: (bone: number | null) => void;
}

const NOTHING: ReadonlySet<number> = new Set();

/** Mesh, skeleton and floor of one character. Everything it shows is also in the ledger, for those who do not see it. */
export function Stage(props: StageProps) {
  const { rig, normalisation, pose, sides, modelUrl, views, mesh, selected, hovered, showBefore, onPick, onHover } =
    props;
  const highlighted = props.highlighted ?? NOTHING;
  const { jointScale = 1, hasLabels = false, isolated = null, focus = null, outlook = null } = props;
  /** Joints that lie on one another under the pointer, to choose from. */
  const [tied, setTied] = useState<{ bones: readonly number[]; x: number; y: number } | null>(null);
  const container = useRef<HTMLDivElement>(null);
  const view = useRef<StageView | null>(null);
  const callbacks = useRef({ onPick, onHover });
  const [model, setModel] = useState<'loading' | 'ready' | 'failed'>('loading');
  const extent = useMemo(() => extentOf(rig, normalisation), [rig, normalisation]);
  const bones = useMemo(() => stageBones(rig, normalisation, pose, sides), [rig, normalisation, pose, sides]);
  const before = useMemo(
    () => (showBefore ? placesOf(rig, normalisation, REST_POSE) : null),
    [showBefore, rig, normalisation],
  );

  const planned = useMemo(() => (outlook ? plannedChange(outlook, bones) : null), [outlook, bones]);

  useEffect(() => {
    callbacks.current = { onPick, onHover };
  }, [onPick, onHover]);

  useEffect(() => {
    if (!container.current) return;
    const stage = new StageView(container.current, {
      onPick: (bone) => {
        setTied(null);
        callbacks.current.onPick(bone);
      },
      onHover: (bone) => callbacks.current.onHover(bone),
      onPickTied: (tiedBones, x, y) => setTied({ bones: tiedBones, x, y }),
    });
    view.current = stage;
    stage.setNormalisation(normalisation);
    stage.setExtent(extent);
    let isGone = false;
    loadModel(modelUrl).then(
      (loaded) => {
        if (isGone) return;
        stage.setModel(loaded);
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
    };
  }, [modelUrl, normalisation, extent]);

  useEffect(() => view.current?.setViews(views), [views, model]);
  useEffect(() => view.current?.setMesh(mesh), [mesh, model]);
  useEffect(
    () =>
      view.current?.setState({
        bones,
        before,
        selected,
        hovered,
        highlighted,
        jointScale,
        hasLabels,
        isolated,
        planned,
      }),
    [bones, before, selected, hovered, highlighted, jointScale, hasLabels, isolated, planned, model],
  );
  // By content: the same joints handed over anew must not undo where a person moved the camera.
  const focusKey = focus?.join() ?? '';
  useEffect(() => view.current?.focusOn(focusKey === '' ? null : focusKey.split(',').map(Number)), [focusKey, model]);
  useEffect(() => {
    view.current?.setPose(
      pose,
      (bone) => rig.bones[bone].nodeIndex,
      (bone) => rig.bones[bone].rest as { rotation: Quat; translation: Vec3 },
      rig.bones.length,
    );
  }, [pose, rig, model]);

  return (
    <div className="relative size-full overflow-hidden bg-(--stage-ground)" data-stage={model}>
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
            onPick(bone);
          }}
          onHover={onHover}
          onClose={() => setTied(null)}
        />
      )}
      <button
        className="btn absolute right-2 bottom-2 bg-base-100/70 btn-ghost btn-xs"
        onClick={() => view.current?.fit()}
      >
        Fit to view
      </button>
    </div>
  );
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

function placesOf(rig: Rig, normalisation: Normalisation, pose: RigPose): Vec3[] {
  const s = normalisation.scale;
  const similarity = compose([0, 0, 0], normalisation.rotation as Quat, [s, s, s]);
  return computeWorlds(rig, pose).map((world) => {
    const placed = multiply(similarity, world);
    return [placed[12], placed[13], placed[14]];
  });
}

function stageBones(rig: Rig, normalisation: Normalisation, pose: RigPose, sides: StageProps['sides']): StageBone[] {
  const places = placesOf(rig, normalisation, pose);
  return rig.bones.map((bone) => ({
    index: bone.index,
    name: bone.name,
    parent: bone.parent,
    side: sides.get(bone.index) ?? 'spare',
    position: places[bone.index],
  }));
}

function plannedChange({ links, gone, joints }: RepairOutlook, bones: readonly StageBone[]): PlannedChange {
  const at = (bone: number): Vec3 => bones[bone].position;
  return {
    rods: links.map(([parent, child]) => [at(parent), at(child)] as const),
    joints: joints.map(({ from, to, share }) => lerp(at(from), at(to), share)),
    gone: gone.map(at),
  };
}
