'use client';

import { useEffect, useRef, useState } from 'react';
import { wrap, type Remote } from 'comlink';
import type { RigPose } from '@/core/rig/pose';
import type { PostureReport, PostureWorkerApi } from '../../workers/browser/posture.worker';
import { useCharacter } from '../character/character-context';
import { useAlignInput } from './use-align-input';

export interface MeshMeasures {
  /** Null until the first measure is done. */
  readonly report: PostureReport | null;
  /** Whether the report is of another pose than the one shown. */
  readonly isStale: boolean;
  readonly hasFailed: boolean;
  /** The pose with both soles flat on the floor; null where no mesh shows them. */
  readonly level: (pose: RigPose, bendsLonger: boolean) => Promise<RigPose | null>;
  /** The pose at a moment of a clip, seconds from its first key; null without motion. */
  readonly moment: (clip: number, seconds: number) => Promise<RigPose | null>;
}

/** A pose must stand still for so long before it is measured. */
const REST_MS = 200;

/** Measures on the mesh, worked out beside the page: shown when they are done, marked while they are of an older pose. */
export function usePostureReport(pose: RigPose): MeshMeasures {
  const { character } = useCharacter();
  const input = useAlignInput();
  const worker = useRef<{ api: Remote<PostureWorkerApi>; held: Promise<void> } | null>(null);
  const [{ report, of }, setReport] = useState<{ report: PostureReport | null; of: RigPose | null }>({
    report: null,
    of: null,
  });
  const [hasFailed, setFailed] = useState(false);
  const { id, modelHash, rig } = character;
  const hasMesh = rig.mesh.vertexCount > 0;
  const hasClips = rig.clips.length > 0;

  useEffect(() => {
    const thread = new Worker(new URL('../../workers/browser/posture.worker.ts', import.meta.url), { type: 'module' });
    thread.onerror = () => setFailed(true);
    worker.current = { api: wrap<PostureWorkerApi>(thread), held: Promise.resolve() };
    return () => {
      worker.current = null;
      thread.terminate();
    };
  }, []);

  useEffect(() => {
    const at = worker.current;
    if (!at) return;
    // The blocks change with the reading, whose file the model hash names.
    const address = (block: string) =>
      `/api/characters/${id}/${block}?definition=${input.definition.id}&of=${modelHash}`;
    at.held = at.api.hold({
      ...input,
      geometryUrl: hasMesh ? address('geometry') : null,
      tracksUrl: hasClips ? address('tracks') : null,
    });
    at.held.catch(() => setFailed(true));
  }, [input, id, modelHash, hasMesh, hasClips]);

  useEffect(() => {
    let isGone = false;
    const timer = setTimeout(() => {
      const at = worker.current;
      if (!at) return;
      at.held
        .then(() => at.api.measure(plain(pose)))
        .then(
          (measured) => {
            if (!isGone) setReport({ report: measured, of: pose });
          },
          () => {
            if (!isGone) setFailed(true);
          },
        );
    }, REST_MS);
    return () => {
      isGone = true;
      clearTimeout(timer);
    };
  }, [pose, input]);

  const ask = async <Answer>(question: (api: Remote<PostureWorkerApi>) => Promise<Answer>): Promise<Answer | null> => {
    const at = worker.current;
    if (!at) return null;
    await at.held;
    return question(at.api);
  };
  return {
    report,
    isStale: of !== pose,
    hasFailed,
    level: (from, bendsLonger) => ask((api) => api.level(plain(from), 0, bendsLonger)),
    moment: (clip, seconds) => ask((api) => api.moment(clip, seconds)),
  };
}

/** A posture carries more than its pose, and all of it would be copied. */
const plain = ({ rotations, shift }: RigPose): RigPose => ({ rotations, shift });
