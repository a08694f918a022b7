'use client';

import { useEffect, useRef } from 'react';
import { useUploads } from '../uploads/use-uploads';
import type { Shelf } from './use-shelf';

/** Uploads whose clips go on the shelf as soon as their skeletons are read. */
export function useMotionUploads({ shelve }: Shelf) {
  const uploads = useUploads();
  const taken = useRef(new Set<string>());
  useEffect(() => {
    for (const upload of uploads.uploads) {
      if (upload.status !== 'done') continue;
      for (const { id } of upload.characters) {
        if (taken.current.has(id)) continue;
        taken.current.add(id);
        void shelve(id);
      }
    }
  }, [uploads.uploads, shelve]);
  return uploads;
}
