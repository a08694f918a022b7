'use client';

import { useState } from 'react';
import { outcomeOf } from '@/contract/client';
import { QUAY } from '@/core/definition/quay';
import type { Problem } from '@/core/errors/yarvo-error';
import type { ShippedSkeleton } from '@/core/profile/profile';
import { ProblemNote } from '@/ui/ProblemNote';
import { postFile } from '@/ui/post-file';

interface SkeletonBlockProps {
  readonly skeleton: ShippedSkeleton | null;
  readonly onChange: (skeleton: ShippedSkeleton | null) => void;
}

/** The skeleton that the studio ships: taken from a file, its bones' roles looked through and corrected. */
export function SkeletonBlock({ skeleton, onChange }: SkeletonBlockProps) {
  const [state, setState] = useState<{ readonly isReading: boolean; readonly problem: Problem | null }>(IDLE);
  const take = async (file: File): Promise<void> => {
    setState({ isReading: true, problem: null });
    const url = `/api/profiles/skeleton?name=${encodeURIComponent(file.name)}`;
    const outcome = await outcomeOf(postFile<{ skeleton: ShippedSkeleton }>(url, file), file.name);
    setState({ isReading: false, problem: outcome.ok ? null : outcome.problem });
    if (outcome.ok) onChange(outcome.data.skeleton);
  };
  return (
    <fieldset className="mb-5 text-[13px]">
      <legend className="mb-1 text-base font-semibold">Shipped skeleton</legend>
      <p className="quiet text-xs">
        What characters are held against, and can be written onto: names, tree, axes and rest of the bones of a file.
      </p>
      <div className="mt-1 flex flex-wrap items-center gap-3">
        <span role="status">
          {state.isReading ? 'Reading the file …' : skeleton ? summaryOf(skeleton) : 'None: any skeleton will do.'}
        </span>
        <label className={`btn btn-xs ${state.isReading ? 'btn-disabled' : ''}`}>
          {skeleton ? 'Take another' : 'Take from a file'}
          <input
            type="file"
            accept=".glb,.gltf,.vrm,.fbx,.dae,.bvh,.zip"
            className="sr-only"
            disabled={state.isReading}
            onChange={(event) => {
              const [file] = event.target.files ?? [];
              if (file) void take(file);
              event.target.value = '';
            }}
          />
        </label>
        {skeleton && (
          <button type="button" className="btn btn-ghost btn-xs" onClick={() => onChange(null)}>
            Remove
          </button>
        )}
      </div>
      {state.problem && (
        <ProblemNote problem={state.problem} onClose={() => setState({ isReading: false, problem: null })} />
      )}
      {skeleton && <Bones skeleton={skeleton} onChange={onChange} />}
    </fieldset>
  );
}

const IDLE = { isReading: false, problem: null };

const summaryOf = ({ label, bones }: ShippedSkeleton): string =>
  `${label}: ${bones.length} bones, ${bones.filter(({ role }) => role !== null).length} of them with a role`;

function Bones({ skeleton, onChange }: { readonly skeleton: ShippedSkeleton } & Pick<SkeletonBlockProps, 'onChange'>) {
  const { bones } = skeleton;
  // A role stands for one bone: who gets it takes it from who had it.
  const give = (at: number, role: string | null) =>
    onChange({
      ...skeleton,
      bones: bones.map((bone, each) =>
        each === at ? { ...bone, role } : bone.role === role && role !== null ? { ...bone, role: null } : bone,
      ),
    });
  return (
    <details className="mt-2">
      <summary className="cursor-pointer">Bones and their roles</summary>
      <div className="mt-1 max-h-80 overflow-auto rounded-box border border-base-300">
        <table className="table-pin-rows table table-xs">
          <thead>
            <tr>
              <th>Bone</th>
              <th>Hangs on</th>
              <th>Stands for</th>
            </tr>
          </thead>
          <tbody>
            {bones.map(({ name, parent, role }, at) => (
              <tr key={name}>
                <td className="font-mono">{name}</td>
                <td className="quiet font-mono">{parent ?? 'nothing'}</td>
                <td>
                  <select
                    aria-label={`Role of ${name}`}
                    className="select w-44 select-xs"
                    value={role ?? ''}
                    onChange={(event) => give(at, event.target.value || null)}
                  >
                    <option value="">no role</option>
                    {QUAY.roles.map(({ id, label }) => (
                      <option key={id} value={id}>
                        {label}
                      </option>
                    ))}
                  </select>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </details>
  );
}
