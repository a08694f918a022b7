/** A file that came along with a model. */
export interface SourceFile {
  /** Path as the upload names it, forward slashes; never used on a disk. */
  readonly path: string;
  readonly bytes: Uint8Array;
  /** Given later by a person, because the model's own reference led nowhere. */
  readonly isSupplied?: boolean;
}

/** Files are found by the last part of a reference, whatever its case: references hold paths of other machines. */
export class Companions {
  private readonly byName = new Map<string, SourceFile>();
  private readonly byPath = new Map<string, SourceFile>();

  constructor(files: readonly SourceFile[]) {
    for (const file of files) {
      this.byPath.set(file.path, file);
      const name = lastPart(file.path).toLowerCase();
      if (!this.byName.has(name)) this.byName.set(name, file);
    }
  }

  findByName(reference: string): SourceFile | null {
    return this.byName.get(nameKey(reference)) ?? null;
  }

  /** A reference relative to the folder of `from`, else by its name alone. References that leave the set find nothing by path. */
  find(reference: string, from: string): SourceFile | null {
    const parts = [...from.split('/').slice(0, -1), ...decoded(reference).replaceAll('\\', '/').split('/')];
    const path: string[] = [];
    for (const part of parts) {
      if (part === '..') path.pop();
      else if (part !== '.' && part !== '') path.push(part);
    }
    return this.byPath.get(path.join('/')) ?? this.findByName(reference);
  }
}

export const lastPart = (path: string): string => path.replaceAll('\\', '/').split('/').pop() ?? '';

/** What a reference is looked up by: its last part without escapes, whatever its case. */
export const nameKey = (reference: string): string => lastPart(decoded(reference)).toLowerCase();

/** A reference without its escapes; as it is where those are damaged. */
export function decoded(reference: string): string {
  try {
    return decodeURIComponent(reference);
  } catch {
    return reference;
  }
}
