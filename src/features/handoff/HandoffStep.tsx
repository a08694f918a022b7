'use client';

import { useRouter } from 'next/navigation';
import { Download, LoaderCircle, PackageCheck } from 'lucide-react';
import { Fragment, useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react';
import { planHandoff, type HandoffPlan } from '@/core/plan/handoff-plan';
import type { CharacterView, HandoffView } from '@/contract/character-view';
import { outcomeOf } from '@/contract/client';
import type { Problem } from '@/core/errors/yarvo-error';
import { jobProblem } from '@/ui/jobs/job-problem';
import { api } from '@/ui/api';
import { newId } from '@/ui/new-id';
import { untilOver } from '@/ui/jobs/job-stream';
import { ProblemNote } from '@/ui/ProblemNote';
import { keepWho, readWho } from '@/ui/who-cookie';
import { bytesText, momentText } from '@/ui/text';
import { useListening } from '@/ui/use-listening';
import { useCharacter } from '../character/character-context';
import { NamesTable } from './NamesTable';
import { PackMotions } from './PackMotions';
import { SkeletonChoice } from './SkeletonChoice';

type Making =
  | { readonly status: 'idle' }
  /** `jobId`: once it is queued, and can be cancelled. */
  | { readonly status: 'running'; readonly jobId?: string }
  | { readonly status: 'failed'; readonly problem: Problem };

const nothing = () => () => undefined;

/** What will be written, what was written, and whether it held when it was read back. */
export function HandoffStep() {
  useListening('handoff');
  const { character, definition, profile, fit } = useCharacter();
  const router = useRouter();
  const [making, setMaking] = useState<Making>({ status: 'idle' });
  // A pack names who answers for it: that is asked for where nobody is known yet.
  const known = useSyncExternalStore(nothing, readWho, () => 'nobody yet');
  const [name, setName] = useState('');
  const jobId = making.status === 'running' ? making.jobId : undefined;
  const blockers = fit.findings.filter((finding) => finding.severity === 'blocker');
  const plan = useMemo(() => {
    const { rig, match, normalisation } = character;
    return planHandoff({ rig, match, normalisation, fit: fit.state, definition, profile });
  }, [character, fit, definition, profile]);
  const follow = useCallback(
    async (id: string) => {
      setMaking({ status: 'running', jobId: id });
      const problem = jobProblem(await untilOver(id));
      setMaking(problem ? { status: 'failed', problem } : { status: 'idle' });
      router.refresh();
    },
    [router],
  );
  useLastPack(character, setMaking, follow);
  const make = async () => {
    setMaking({ status: 'running' });
    const params = {
      path: { characterId: character.id },
      query: { job: newId(), definition: definition.id },
    };
    const outcome = await outcomeOf(api.POST('/api/characters/{characterId}/handoffs', { params }), character.name);
    if (!outcome.ok) return setMaking({ status: 'failed', problem: outcome.problem });
    await follow(outcome.data.job.id);
  };
  const cancel = (id: string) => void api.DELETE('/api/jobs/{jobId}', { params: { path: { jobId: id } } });
  return (
    <div className="grid h-full min-h-0 grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
      <main className="min-h-0 overflow-auto p-5">
        <h2 className="font-semibold">
          Hand off revision {fit.revision} for {profile.label}
        </h2>
        <p className="quiet mt-1 text-[13px]">
          GLB in metres, Y up, facing +Z, {poseText(plan)}, bound again there; with the name crosswalk and a manifest of
          hashes. The file is read back, validated, matched and checked before the pack is offered.
        </p>
        <SkeletonChoice />
        <PackMotions />
        {blockers.length > 0 ? (
          <div className="mt-3 rounded-box border border-error/50 bg-base-100 p-3" role="status">
            <p className="font-medium text-error">
              Blocked by {blockers.length === 1 ? 'a blocker' : `${blockers.length} blockers`}
            </p>
            <ul className="mt-1 list-disc pl-5">
              {blockers.map((finding) => (
                <li key={finding.sentence}>
                  {finding.sentence} <span className="quiet">{finding.remedy}</span>
                </li>
              ))}
            </ul>
          </div>
        ) : (
          <>
            {known === '' && (
              <label className="mt-3 flex items-center gap-2 text-[13px]">
                Signed off by
                <input
                  className="input w-56 input-sm"
                  maxLength={80}
                  placeholder="Your name"
                  value={name}
                  onChange={(event) => setName(event.target.value)}
                />
              </label>
            )}
            <button
              className="btn mt-3 btn-primary btn-sm"
              disabled={making.status === 'running' || (known === '' && name.trim() === '')}
              onClick={() => {
                if (known === '') keepWho(name);
                void make();
              }}
            >
              {making.status === 'running' ? (
                <LoaderCircle aria-hidden className="size-4 animate-spin" />
              ) : (
                <PackageCheck aria-hidden className="size-4" />
              )}
              {making.status === 'running'
                ? 'Writing and reading back …'
                : `Sign off and make version ${(character.handoffs[0]?.version ?? 0) + 1}`}
            </button>
          </>
        )}
        {jobId && (
          <button className="btn mt-3 ml-2 btn-ghost btn-sm" onClick={() => cancel(jobId)}>
            Cancel
          </button>
        )}
        {making.status === 'failed' && (
          <div className="mt-3">
            <ProblemNote problem={making.problem} onClose={() => setMaking({ status: 'idle' })} />
          </div>
        )}
        <h2 className="mt-6 mb-2 font-semibold">Packs</h2>
        {character.handoffs.length === 0 ? (
          <p className="quiet">None yet.</p>
        ) : (
          <ol className="space-y-3">
            {character.handoffs.map((handoff) => (
              <PackItem key={handoff.version} characterId={character.id} handoff={handoff} />
            ))}
          </ol>
        )}
      </main>
      <NamesTable plan={plan} />
    </div>
  );
}

/** What became of the last try, for whoever comes back: it goes on, or says why it failed. */
function useLastPack(
  { id, handoffs }: Pick<CharacterView, 'id' | 'handoffs'>,
  setMaking: (making: Making) => void,
  follow: (jobId: string) => Promise<void>,
): void {
  const lastAt = handoffs[0]?.at ?? '';
  const asked = useRef(false);
  useEffect(() => {
    if (asked.current) return;
    asked.current = true;
    const query = { kind: 'pack' as const, subject: id };
    void outcomeOf(api.GET('/api/jobs', { params: { query } }), 'packs').then((outcome) => {
      const last = outcome.ok ? outcome.data.jobs[0] : undefined;
      if (!last || last.updatedAt <= lastAt) return;
      if (last.state === 'queued' || last.state === 'running') void follow(last.id);
      const problem = last.state === 'failed' ? jobProblem(last) : null;
      if (problem) setMaking({ status: 'failed', problem });
    });
  }, [id, lastAt, setMaking, follow]);
}

/** Which pose is written, and on whose bones. */
function poseText({ options, profile, definition }: HandoffPlan): string {
  const { skeleton } = profile;
  return options.conform && skeleton
    ? `on the skeleton ${skeleton.label}, in its pose`
    : `in ${definition.label}’s ${definition.pose}-pose`;
}

/** The parts of a stored manifest that the page shows. */
interface ManifestShown {
  readonly fitRevision: number;
  readonly files: readonly { path: string; sha256: string; bytes: number }[];
  readonly constantKeys: number;
  readonly leftOut: readonly string[];
  readonly readBack: {
    validator: { errors: number; warnings: number };
    rolesWritten: number;
    rolesMatchedByName: number;
    rolesMatchedWithoutNames: number;
    posture: string;
    heightMetres: number;
    /** Packs of older versions say nothing of the kind. */
    remarks?: readonly string[];
  };
}

function PackItem({ characterId, handoff }: { characterId: string; handoff: HandoffView }) {
  const manifest = handoff.manifest as ManifestShown;
  const { readBack } = manifest;
  return (
    <li className="rounded-box border border-base-300 bg-base-100 p-3">
      <div className="flex items-baseline gap-3">
        <span className="font-semibold">Version {handoff.version}</span>
        <span className="quiet text-[13px]">
          revision {manifest.fitRevision}, signed off by {handoff.author},{' '}
          <span suppressHydrationWarning>{momentText(handoff.at)}</span>
        </span>
        <a className="btn ml-auto btn-sm" href={`/api/characters/${characterId}/handoffs/${handoff.version}/pack`}>
          <Download aria-hidden className="size-4" />
          {handoff.fileName} <span className="quiet font-normal">{bytesText(handoff.sizeBytes)}</span>
        </a>
      </div>
      <dl className="mt-2 grid grid-cols-[9rem_1fr] gap-y-0.5 text-[13px]">
        <dt className="quiet">Read back</dt>
        <dd>
          {readBack.validator.errors} format errors, {readBack.validator.warnings} warnings; {readBack.posture}{' '}
          {readBack.heightMetres.toFixed(2)} m tall
        </dd>
        <dt className="quiet">Matched again</dt>
        <dd>
          {readBack.rolesMatchedByName} of {readBack.rolesWritten} roles by name, {readBack.rolesMatchedWithoutNames}{' '}
          with the names erased
        </dd>
        {(readBack.remarks ?? []).map((remark) => (
          <Fragment key={remark}>
            <dt className="text-warning">Note</dt>
            <dd className="text-warning">{remark}</dd>
          </Fragment>
        ))}
        <dt className="quiet">Constant keys</dt>
        <dd>{manifest.constantKeys} added to its clips</dd>
        {manifest.leftOut.length > 0 && (
          <>
            <dt className="quiet">Left out</dt>
            <dd>{manifest.leftOut.join(', ')}</dd>
          </>
        )}
        {manifest.files.map((file) => (
          <Hash key={file.path} {...file} />
        ))}
      </dl>
    </li>
  );
}

const Hash = ({ path, sha256, bytes }: { path: string; sha256: string; bytes: number }) => (
  <>
    <dt className="quiet truncate" title={path}>
      {path.split('/').pop()}
    </dt>
    <dd>
      {bytesText(bytes)}{' '}
      <span className="quiet font-mono text-xs" title={sha256}>
        {sha256.slice(0, 24)}…
      </span>
    </dd>
  </>
);
