import { MOST_FILES } from '@/contract/requests';
import { isCompanion, isModel } from '@/core/intake/file-names';

/** Files of one upload: a model with what came along, or a file by itself. */
export interface UploadGroup {
  readonly name: string;
  readonly files: readonly NamedFile[];
  /** Files that go with it and are one too many for an upload. */
  readonly excess: readonly NamedFile[];
}

interface NamedFile {
  /** Path below the dropped folder, forward slashes. */
  readonly path: string;
  readonly file: File;
}

const folderOf = (path: string): string => path.split('/').slice(0, -1).join('/');

/** Path of a dropped file; folders keep theirs. */
export function pathOf(file: File): string {
  const { path } = file as File & { path?: string };
  return (file.webkitRelativePath || path || file.name).replace(/^\.?\/+/, '');
}

/**
 * One group for each model: itself with the textures and buffers of its own folder tree, or of all that was dropped
 * where nothing lies nearer. Anything else goes alone, so that its refusal names it.
 */
export function groupFiles(files: readonly File[]): UploadGroup[] {
  const named = files.map((file): NamedFile => ({ path: pathOf(file), file }));
  const models = named.filter(({ path }) => isModel(path));
  const companions = named.filter(({ path }) => isCompanion(path));
  const others = named.filter((entry) => !models.includes(entry) && !companions.includes(entry));
  const groups = models.map((model): UploadGroup => {
    const folder = folderOf(model.path);
    const near = companions.filter(({ path }) => folder === '' || path.startsWith(`${folder}/`));
    return groupOf(model.path, [model, ...(near.length > 0 ? near : companions)]);
  });
  const alone = models.length > 0 ? others : [...others, ...companions];
  return [...groups, ...alone.map((entry) => groupOf(entry.path, [entry]))];
}

const groupOf = (name: string, files: readonly NamedFile[]): UploadGroup => ({
  name,
  files: files.slice(0, MOST_FILES),
  excess: files.slice(MOST_FILES),
});
