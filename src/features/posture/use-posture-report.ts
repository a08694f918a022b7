'use client';

import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { wrap, type Remote } from 'comlink';
import type { RigPose } from '@/core/rig/pose';
import type { PostureReport, PostureSubject, PostureWorkerApi } from '../../workers/browser/posture.worker';
import { useCharacter } from '../character/character-context';
import { useAlignInput } from './use-align-input';

export interface MeshMeasures {
  /** Null until the first measure is done. */
  readonly report: PostureReport | null;
  /** Whether the report is of another pose than the one shown. */
  readonly isStale: boolean;
  readonly hasFailed: boolean;
  /** Measures a pose now. */
  readonly measure: (pose: RigPose) => Promise<PostureReport>;
  /** The pose with both soles flat on the floor; null where no mesh shows them. */
  readonly level: (pose: RigPose, bendsLonger: boolean) => Promise<RigPose | null>;
  /** The pose at a moment of a clip, seconds from its first key; null without motion. */
  readonly moment: (clip: number, seconds: number) => Promise<RigPose | null>;
}

/** A pose must stand still for so long before it is measured. */
const REST_MS = 200;

/**
 * Measures on the mesh, worked out beside the page: shown when they are done, marked while they are of an older pose.
 * Nothing is fetched or worked out before it is asked for.
 *
 * @param isWanted whether the measures are on the screen.
 */
export function usePostureReport(pose: RigPose, isWanted: boolean): MeshMeasures {
  const ask = usePostureWorker();
  const [{ report, of }, setReport] = useState<{ report: PostureReport | null; of: RigPose | null }>({
    report: null,
    of: null,
  });
  const [hasFailed, setFailed] = useState(false);
  const measure = useCallback((from: RigPose) => ask((api) => api.measure(plain(from))), [ask]);

  useEffect(() => {
    if (!isWanted) return;
    let isGone = false;
    const timer = setTimeout(() => {
      measure(pose).then(
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
  }, [pose, isWanted, measure]);

  return {
    report,
    isStale: of !== pose,
    hasFailed,
    measure,
    level: (from, bendsLonger) => ask((api) => api.level(plain(from), bendsLonger)),
    moment: (clip, seconds) => ask((api) => api.moment(clip, seconds)),
  };
}

/** A posture carries more than its pose, and all of it would be copied. */
const plain = ({ rotations, shift }: RigPose): RigPose => ({ rotations, shift });

interface Worked {
  readonly thread: Worker;
  readonly api: Remote<PostureWorkerApi>;
  subject: PostureSubject | null;
  ready: Promise<void>;
}

/** Asks the worker, which is started with the first question and holds the figure as it stands when it is asked. */
function usePostureWorker() {
  const { character } = useCharacter();
  const input = useAlignInput();
  const { id, modelHash, rig } = character;
  const subject = useMemo<PostureSubject>(() => {
    // The blocks change with the reading, whose file the model hash names.
    const address = (block: string) =>
      `/api/characters/${id}/${block}?definition=${input.definition.id}&of=${modelHash}`;
    return {
      ...input,
      geometryUrl: rig.mesh.vertexCount > 0 ? address('geometry') : null,
      tracksUrl: rig.clips.length > 0 ? address('tracks') : null,
    };
  }, [input, id, modelHash, rig]);
  const worked = useRef<Worked | null>(null);
  useEffect(
    () => () => {
      worked.current?.thread.terminate();
      worked.current = null;
    },
    [],
  );
  return useCallback(
    async <Answer>(question: (api: Remote<PostureWorkerApi>) => Promise<Answer>): Promise<Answer> => {
      const at = (worked.current ??= startWorker());
      if (at.subject !== subject) {
        at.subject = subject;
        at.ready = at.api.hold(subject);
      }
      await at.ready;
      return question(at.api);
    },
    [subject],
  );
}

function startWorker(): Worked {
  const thread = new Worker(new URL('../../workers/browser/posture.worker.ts', import.meta.url), { type: 'module' });
  return { thread, api: wrap<PostureWorkerApi>(thread), subject: null, ready: Promise.resolve() };
}
