'use client';

import { FileUp } from 'lucide-react';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import type { MotionList, MotionView } from '@/contract/motions';
import { ProblemNote } from '@/ui/ProblemNote';
import { momentText } from '@/ui/text';
import { useListening } from '@/ui/use-listening';
import { countText } from '@/core/text/count';
import { PageHead } from '@/ui/PageHead';
import { useMotionUploads } from '../drill/use-motion-uploads';
import { useShelf } from '../drill/use-shelf';
import { UploadList } from '../uploads/UploadList';
import { MotionRow } from './MotionRow';

const HEADINGS = ['Motion', 'Length', 'Rate', 'Reference', 'Travel to the root', 'Skeleton', 'Added', ''];

/** The studio's motions: files dropped anywhere on the page are matched, aligned and put on it. */
export function ShelfPage({ list: given }: { list: MotionList }) {
  useListening('motions');
  const shelf = useShelf(given);
  const uploads = useMotionUploads(shelf);
  const [removed, setRemoved] = useState<readonly MotionView[]>([]);
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => uploads.add(files),
    noClick: true,
    noKeyboard: true,
  });
  const { tabIndex: _tabIndex, ...rootProps } = getRootProps();
  const motions = shelf.list?.motions ?? [];
  return (
    <div {...rootProps} className="flex min-h-full flex-col">
      <input {...getInputProps()} aria-label="Motion files to add" />
      <PageHead title="Motions" about={`${countText(motions.length, 'motion')} on the shelf`}>
        <button className="btn btn-primary btn-sm" onClick={open}>
          <FileUp aria-hidden className="size-4" />
          Add files
        </button>
      </PageHead>
      <main className="mx-auto w-full max-w-6xl flex-1 p-5">
        <UploadList uploads={uploads.uploads} onCancel={uploads.cancel} onDismiss={uploads.dismiss} />
        {shelf.problem && (
          <div className="mb-3">
            <ProblemNote problem={shelf.problem} onClose={shelf.dismiss} />
          </div>
        )}
        {removed.map((motion) => (
          <p
            key={motion.id}
            className="mb-2 flex items-center gap-3 rounded-box border border-base-300 bg-base-100 px-3 py-1.5"
          >
            {motion.name} was taken off the shelf.
            <button
              className="btn ml-auto btn-xs"
              onClick={() => {
                setRemoved((known) => known.filter((each) => each.id !== motion.id));
                void shelf.change({ ...motion, revision: motion.revision + 1 }, { isRemoved: false });
              }}
            >
              Put it back
            </button>
          </p>
        ))}
        {motions.length === 0 ? (
          <EmptyShelf onPick={open} />
        ) : (
          <table className="w-full border-separate border-spacing-0 rounded-box border border-base-300 bg-base-100 text-[13px]">
            <thead>
              <tr className="text-left">
                {HEADINGS.map((heading) => (
                  <th key={heading} scope="col" className="quiet border-b border-base-300 px-3 py-2 font-medium">
                    {heading || <span className="sr-only">Actions</span>}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {motions.map((motion) => (
                <MotionRow
                  key={motion.id}
                  motion={motion}
                  when={momentText(motion.createdAt)}
                  onChange={(change) => void shelf.change(motion, change)}
                  onCopy={() => void shelf.copy(motion)}
                  onRemove={() => {
                    setRemoved((known) => [motion, ...known]);
                    void shelf.change(motion, { isRemoved: true });
                  }}
                />
              ))}
            </tbody>
          </table>
        )}
        <p className="quiet mt-3 text-[13px]">
          A motion is taken with up to {(shelf.list?.mostFrames ?? 0).toLocaleString('en')} frames. Each skeleton is
          matched once; a further file on a known one asks nothing.
        </p>
      </main>
      {isDragActive && (
        <div className="pointer-events-none fixed inset-0 z-40 grid place-items-center bg-base-200/85">
          <p className="rounded-box border-2 border-dashed border-primary bg-base-100 px-10 py-8 text-lg">
            Drop to add the motions
          </p>
        </div>
      )}
    </div>
  );
}

function EmptyShelf({ onPick }: { onPick: () => void }) {
  return (
    <div className="mx-auto mt-16 max-w-md text-center">
      <h2 className="text-lg font-semibold">No motions yet</h2>
      <p className="quiet mt-2">
        Drop BVH, FBX, glTF, COLLADA or VRM files with motion anywhere on this page. Their skeletons are matched and put
        into the reference pose; then every character can play them.
      </p>
      <button className="btn mt-4 btn-primary btn-sm" onClick={onPick}>
        Add files
      </button>
    </div>
  );
}
