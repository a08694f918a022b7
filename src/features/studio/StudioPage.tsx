'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState, type ReactNode } from 'react';
import { outcomeOf } from '@/contract/client';
import type { ProfileEntry, WaiverRow } from '@/contract/studio';
import { diffProfiles } from '@/core/profile/diff-profiles';
import { EngineProfileSchema, type EngineProfile } from '@/core/profile/profile';
import { faultsOf, jsonOf } from '@/core/schema/read-json';
import { countText } from '@/core/text/count';
import { api } from '@/ui/api';
import { newId } from '@/ui/new-id';
import { download } from '@/ui/download';
import { ProblemNote } from '@/ui/ProblemNote';
import { momentText } from '@/ui/text';
import { useListening } from '@/ui/use-listening';
import { PageHead } from '@/ui/PageHead';
import { ProfileForm } from './ProfileForm';
import { WaiverTable } from './WaiverTable';
import type { Problem } from '@/core/errors/yarvo-error';

interface StudioPageProps {
  readonly entries: readonly ProfileEntry[];
  readonly profile: EngineProfile;
  readonly waivers: readonly WaiverRow[];
  /** Whether these are shown in place of the profile. */
  readonly showsWaivers: boolean;
}

/** Engine profiles of the studio: edited, kept in versions, compared, taken in and out as JSON. */
export function StudioPage({ entries, profile, waivers, showsWaivers }: StudioPageProps) {
  useListening('studio');
  const router = useRouter();
  const [problem, setProblem] = useState<Problem | null>(null);
  const [taken, setTaken] = useState<EngineProfile | null>(null);
  const [other, setOther] = useState<EngineProfile | null>(null);
  /** Somebody saved the version first that this one was to be. */
  const [behind, setBehind] = useState<{ readonly mine: EngineProfile; readonly newest: EngineProfile } | null>(null);
  const own = entries.find(({ id }) => id === profile.id);
  const newest = own?.versions[0]?.version ?? profile.version;
  const start = taken ?? profile;
  const take = async (file: File): Promise<void> => {
    const parsed = EngineProfileSchema.safeParse(jsonOf(await file.text()));
    if (!parsed.success)
      return setProblem({
        code: 'bad-profile',
        message: `This is no engine profile: ${faultsOf(parsed.error)}.`,
        place: file.name,
        remedy: 'Correct what is named, and drop the file again.',
      });
    setProblem(null);
    setTaken(parsed.data);
  };
  const read = async (id: string, version?: number) => {
    const params = { path: { profileId: id }, query: { version } };
    return outcomeOf(api.GET('/api/profiles/{profileId}', { params: params as never }), profile.label);
  };
  const save = async (wanted: EngineProfile, after?: number): Promise<void> => {
    const known = after ?? entries.find(({ id }) => id === wanted.id)?.versions[0]?.version ?? 0;
    const body = { ...wanted, version: known + 1 };
    const outcome = await outcomeOf(
      api.POST('/api/profiles', { params: { query: { callId: newId() } }, body: body as never }),
      wanted.label,
    );
    if (!outcome.ok) {
      setProblem(outcome.problem);
      if (outcome.problem.code !== 'profile-behind') return;
      const newestOne = await read(wanted.id);
      if (newestOne.ok) setBehind({ mine: body, newest: newestOne.data.profile as EngineProfile });
      return;
    }
    setProblem(null);
    setBehind(null);
    setTaken(null);
    router.push(`/studio?profile=${wanted.id}`);
    router.refresh();
  };
  const compare = async (version: number): Promise<void> => {
    const outcome = await read(profile.id, version);
    if (outcome.ok) setOther(outcome.data.profile as EngineProfile);
    else setProblem(outcome.problem);
  };
  return (
    <div className="flex h-full min-h-full flex-col">
      <PageHead title="Studio" about={showsWaivers ? 'waivers' : 'engine profiles'} />
      <div className="grid min-h-0 flex-1 grid-cols-[260px_1fr]">
        <nav
          aria-label="Engine profiles"
          className="flex min-h-0 flex-col gap-1 overflow-auto border-r border-base-300 bg-base-100 p-3"
        >
          {entries.map(({ id, label, versions, fits, fault }) => (
            <Link
              key={id}
              href={`/studio?profile=${id}`}
              aria-current={id === profile.id && !showsWaivers ? 'page' : undefined}
              className={`rounded-field px-2 py-1 ${id === profile.id && !showsWaivers ? 'bg-base-200 font-semibold' : 'hover:bg-base-200'}`}
            >
              {label}{' '}
              <span className="quiet font-normal">
                version {versions[0].version}, {countText(fits, 'fit')}
              </span>
              {fault !== null && (
                <span className="block font-normal text-error" title={fault}>
                  has a fault: correct it and save
                </span>
              )}
            </Link>
          ))}
          <Link
            href="/studio?show=waivers"
            aria-current={showsWaivers ? 'page' : undefined}
            className={`mt-3 rounded-field px-2 py-1 ${showsWaivers ? 'bg-base-200 font-semibold' : 'hover:bg-base-200'}`}
          >
            Waivers <span className="quiet font-normal">{waivers.length}</span>
          </Link>
          <label className="btn mt-3 btn-sm">
            Take in a JSON file
            <input
              type="file"
              accept="application/json,.json"
              className="sr-only"
              onChange={(event) => {
                const [file] = event.target.files ?? [];
                if (file) void take(file);
                event.target.value = '';
              }}
            />
          </label>
          <button
            className="btn btn-sm"
            onClick={() =>
              download(
                `${JSON.stringify(profile, null, 2)}\n`,
                `${profile.id}-v${profile.version}.json`,
                'application/json',
              )
            }
          >
            Save as JSON
          </button>
          <h2 className="mt-4 px-2 font-semibold">Versions of {profile.label}</h2>
          <ul className="text-[13px]">
            {own?.versions.map(({ version, createdBy, createdAt }) => (
              <li key={version} className="flex items-center gap-2 px-2 py-0.5">
                <span>
                  {version}{' '}
                  <span className="quiet">
                    {createdBy}, {momentText(createdAt)}
                  </span>
                </span>
                {version !== profile.version && (
                  <button className="btn ml-auto btn-ghost btn-xs" onClick={() => void compare(version)}>
                    Compare
                  </button>
                )}
              </li>
            ))}
          </ul>
        </nav>
        <main className="min-h-0 overflow-auto p-5">
          {problem && <ProblemNote problem={problem} onClose={() => setProblem(null)} />}
          {taken && (
            <p role="status" className="mb-3 rounded-box border border-primary p-2 text-[13px]">
              {taken.label} from the file is shown, not kept yet. Save it as a version, or{' '}
              <button className="link" onClick={() => setTaken(null)}>
                leave it
              </button>
              .
            </p>
          )}
          {behind && (
            <Compared older={behind.newest} newer={behind.mine} onClose={() => setBehind(null)}>
              <button className="btn btn-primary btn-xs" onClick={() => void save(behind.mine, behind.newest.version)}>
                Save mine as version {behind.newest.version + 1}
              </button>
            </Compared>
          )}
          {showsWaivers && <WaiverTable waivers={waivers} />}
          {!showsWaivers && other && <Compared older={other} newer={profile} onClose={() => setOther(null)} />}
          {!showsWaivers && (
            <ProfileForm
              key={`${start.id} ${start.version} ${taken ? 'taken' : ''}`}
              profile={start}
              next={newest + 1}
              onSave={save}
            />
          )}
        </main>
      </div>
    </div>
  );
}

function Compared({
  older,
  newer,
  onClose,
  children,
}: {
  readonly older: EngineProfile;
  readonly newer: EngineProfile;
  readonly onClose: () => void;
  /** What can be done about the difference. */
  readonly children?: ReactNode;
}) {
  const changes = diffProfiles(older, newer);
  return (
    <section
      aria-label="Compared versions"
      className="mb-4 rounded-box border border-base-300 bg-base-100 p-3 text-[13px]"
    >
      <div className="flex items-center">
        <h2 className="font-semibold">
          {children
            ? `The newest version, ${older.version}, against yours`
            : `Version ${older.version} against ${newer.version}`}
        </h2>
        <span className="ml-4">{children}</span>
        <button className="btn ml-auto btn-ghost btn-xs" onClick={onClose}>
          Close
        </button>
      </div>
      {changes.length === 0 ? (
        <p className="quiet">They say the same.</p>
      ) : (
        <table className="mt-1">
          <tbody>
            {changes.map(({ field, before, after }) => (
              <tr key={field}>
                <th className="pr-4 text-left font-mono text-xs font-normal">{field}</th>
                <td className="quiet pr-2 line-through">{before}</td>
                <td className="font-semibold">{after}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
