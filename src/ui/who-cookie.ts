const YEAR_SECONDS = 31_536_000;

/** The name under which this browser's changes are recorded; empty where none was given. */
export function readWho(): string {
  const name = decodeURIComponent(/(?:^|;\s*)yarvo-who=([^;]*)/.exec(document.cookie)?.[1] ?? '');
  return name === 'you' ? '' : name;
}

/** Keeps a name for a year; an empty one is none. */
export function keepWho(name: string): void {
  document.cookie = `yarvo-who=${encodeURIComponent(name.trim() || 'you')}; path=/; max-age=${YEAR_SECONDS}; samesite=strict`;
}
