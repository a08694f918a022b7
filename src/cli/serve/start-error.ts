/** A start that cannot go on, in one sentence for whoever typed it. */
export class StartError extends Error {
  /** @param exitCode 2 for a wrong command, 1 for everything else. */
  constructor(
    message: string,
    readonly exitCode: 1 | 2 = 1,
  ) {
    super(message);
    this.name = 'StartError';
  }
}

/** Any failure of a start as one sentence; the log holds the rest. */
export function sentenceOf(error: unknown): string {
  if (error instanceof StartError) return error.message;
  const { code, message, path } = error as { code?: string; message?: string; path?: string };
  const place = path ? ` (${path})` : '';
  if (code === 'ENOSPC') return `The disk is full${place}; make room on it, then start again.`;
  if (code === 'EROFS') return `The disk can only be read${place}; name another folder with --data.`;
  if (code === 'EACCES' || code === 'EPERM')
    return `Yarvo may not write there${place}; name another folder with --data.`;
  return (message ?? String(error)).split('\n')[0];
}
