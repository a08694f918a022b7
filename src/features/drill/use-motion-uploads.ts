'use client';

import { useEffect, useRef } from 'react';
import { useUploads } from '../uploads/use-uploads';
import type { Shelf } from './use-shelf';

/** Uploads whose clips go on the shelf: the server sees to that, and this page shows it once it is done. */
export function useMotionUploads({ reload }: Shelf) {
  const uploads = useUploads({ shelves: true });
  const seen = useRef(0);
  const done = uploads.uploads.filter(({ status }) => status === 'done').length;
  useEffect(() => {
    if (done > seen.current) void reload();
    seen.current = done;
  }, [done, reload]);
  return uploads;
}
