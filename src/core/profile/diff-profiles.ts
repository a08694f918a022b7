import type { EngineProfile } from './profile-shape';

export interface ProfileChange {
  /** "limits.bonesPerSkeleton" */
  readonly field: string;
  readonly before: string;
  readonly after: string;
}

/** What differs between two profiles, field by field in their order; versions apart. */
export function diffProfiles(before: EngineProfile, after: EngineProfile): ProfileChange[] {
  const [a, b] = [flattened(before), flattened(after)];
  const fields = [...new Set([...a.keys(), ...b.keys()])].filter((field) => field !== 'version');
  return fields.flatMap((field) => {
    const [was, is] = [a.get(field) ?? 'none', b.get(field) ?? 'none'];
    return was === is ? [] : [{ field, before: was, after: is }];
  });
}

function flattened(value: unknown, path = '', into = new Map<string, string>()): Map<string, string> {
  if (value !== null && typeof value === 'object' && Object.keys(value).length > 0)
    for (const [key, inner] of Object.entries(value)) flattened(inner, path === '' ? key : `${path}.${key}`, into);
  else into.set(path, textOf(value));
  return into;
}

const textOf = (value: unknown): string =>
  value === null || value === undefined || (typeof value === 'object' && Object.keys(value).length === 0)
    ? 'none'
    : typeof value === 'string'
      ? value
      : JSON.stringify(value);
