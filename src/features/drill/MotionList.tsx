'use client';

import { FileUp } from 'lucide-react';
import Link from 'next/link';
import { useRef, useState } from 'react';
import type { MotionView } from '@/contract/motions';
import { HOUSE_SET } from '@/core/house/house-set';
import type { Rig } from '@/core/rig/rig';
import { UploadList } from '../uploads/UploadList';
import { houseMotionId, ownMotionId, type ChosenMotion } from './chosen-motion';
import { useMotionUploads } from './use-motion-uploads';
import type { Shelf } from './use-shelf';

interface MotionListProps {
  readonly rig: Rig;
  readonly shelf: Shelf;
  readonly chosen: ChosenMotion | null;
  readonly onChoose: (id: string) => void;
  /** Puts a clip of the character's own on the shelf, for others. */
  readonly onShelve: (clip: number) => void;
}

/** What can be played: the character's own clips, and the motions of the studio. */
export function MotionList({ rig, shelf, chosen, onChoose, onShelve }: MotionListProps) {
  const [text, setText] = useState('');
  const uploads = useMotionUploads(shelf);
  const picker = useRef<HTMLInputElement>(null);
  const own = rig.clips.flatMap((clip, index) => (clip.durationSeconds > 0 ? [{ ...clip, index }] : []));
  const all = shelf.list?.motions ?? [];
  const wanted = text.trim().toLowerCase();
  const found = all.filter((motion) =>
    `${motion.name} ${motion.kind === 'clip' ? motion.fileName : ''}`.toLowerCase().includes(wanted),
  );
  const house = HOUSE_SET.filter(({ label }) => label.toLowerCase().includes(wanted));
  return (
    <nav aria-label="Motions" className="flex min-h-0 flex-1 flex-col">
      <div className="flex items-center gap-2 px-4 pt-3 pb-1">
        <h2 className="font-semibold">Motions</h2>
        <Link href="/motions" className="ml-auto link text-[13px] link-primary">
          Shelf
        </Link>
        <button className="btn btn-xs" onClick={() => picker.current?.click()}>
          <FileUp aria-hidden className="size-3.5" />
          Add files
        </button>
        <input
          ref={picker}
          type="file"
          multiple
          hidden
          aria-label="Motion files to add"
          onChange={(event) => {
            uploads.add([...(event.target.files ?? [])]);
            event.target.value = '';
          }}
        />
      </div>
      {all.length + HOUSE_SET.length > 8 && (
        <input
          type="search"
          aria-label="Find a motion"
          placeholder="Find a motion"
          className="input mx-4 mb-1 w-auto input-xs"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
      )}
      <div className="min-h-0 flex-1 overflow-auto px-2 pb-2">
        <UploadList uploads={uploads.uploads} onCancel={uploads.cancel} onDismiss={uploads.dismiss} />
        {own.length > 0 && (
          <>
            <h3 className="quiet px-2 pt-1 text-[13px]">In its own file</h3>
            <ul>
              {own.map(({ index, name, durationSeconds }) => (
                <li key={index} className="group relative">
                  <MotionButton
                    name={name}
                    note={secondsText(durationSeconds)}
                    isChosen={chosen?.kind === 'own' && chosen.clip === index}
                    onClick={() => onChoose(ownMotionId(index))}
                  />
                  <button
                    className="btn absolute top-0.5 right-14 opacity-0 btn-xs group-focus-within:opacity-100 group-hover:opacity-100"
                    title="Put it on the shelf, for other characters"
                    onClick={() => onShelve(index)}
                  >
                    Shelve
                  </button>
                </li>
              ))}
            </ul>
          </>
        )}
        <h3 className="quiet px-2 pt-2 text-[13px]">On the shelf</h3>
        {shelf.list === null ? (
          <p className="quiet px-2 py-1" role="status">
            Fetching the motions …
          </p>
        ) : all.length === 0 ? (
          <p className="quiet px-2 py-1 text-[13px]">
            Nothing yet. Add BVH, FBX, glTF, COLLADA or VRM files with motion; their skeletons are matched by
            themselves. The house set below needs no files.
          </p>
        ) : (
          <ul>
            {found.map((motion) => (
              <li key={motion.id}>
                <MotionButton
                  name={motion.name}
                  note={secondsText(motion.durationSeconds)}
                  mark={doubtText(motion)}
                  isChosen={chosen?.kind === 'shelf' && chosen.motion.id === motion.id}
                  onClick={() => onChoose(motion.id)}
                />
              </li>
            ))}
            {found.length === 0 && <li className="quiet px-2 py-1">No motion matches.</li>}
          </ul>
        )}
        {house.length > 0 && (
          <>
            <h3 className="quiet px-2 pt-2 text-[13px]">House set, made by Yarvo</h3>
            <ul>
              {house.map(({ id, label, settings }) => (
                <li key={id}>
                  <MotionButton
                    name={label}
                    note={settings ? 'settings' : ''}
                    isChosen={chosen?.kind === 'house' && chosen.house.entry === id}
                    onClick={() => onChoose(houseMotionId(id))}
                  />
                </li>
              ))}
            </ul>
          </>
        )}
      </div>
    </nav>
  );
}

interface MotionButtonProps {
  readonly name: string;
  readonly note: string;
  readonly mark?: string;
  readonly isChosen: boolean;
  readonly onClick: () => void;
}

function MotionButton({ name, note, mark, isChosen, onClick }: MotionButtonProps) {
  return (
    <button
      aria-current={isChosen ? 'true' : undefined}
      className={`flex w-full min-w-0 items-baseline gap-2 rounded-field px-2 py-1 text-left hover:bg-base-200 ${isChosen ? 'bg-(--accent-wash) font-semibold' : ''}`}
      onClick={onClick}
    >
      <span className="min-w-0 flex-1 truncate">{name}</span>
      {mark && <span className="text-[13px] font-normal whitespace-nowrap text-warning">{mark}</span>}
      <span className="quiet text-[13px] font-normal tabular-nums">{note}</span>
    </button>
  );
}

const secondsText = (seconds: number): string => `${seconds.toFixed(1)} s`;
export function doubtText(motion: MotionView): string {
  const doubts = motion.kind === 'clip' ? motion.doubts : 0;
  return doubts === 0 ? '' : `${doubts} ${doubts === 1 ? 'doubt' : 'doubts'}`;
}
