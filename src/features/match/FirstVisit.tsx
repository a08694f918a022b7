'use client';

import { Key } from '@/ui/Key';

/** What the line map is, in three sentences, for those who see it for the first time. */
export function FirstVisit({ onDone }: { onDone: () => void }) {
  return (
    <aside aria-label="What the line map is" className="flex items-center gap-4">
      <p className="text-[13px] leading-snug">
        This map is the studio&rsquo;s body: hips to head along the middle, the character&rsquo;s left limbs above, the
        right ones below. Each bar is a role that wants one bone of this rig; the list at the left holds the bones, the
        stage below shows them. Press <Key>R</Key> to go through what is in doubt, and <Key>?</Key> for all keys.
      </p>
      <button className="btn btn-primary btn-sm" onClick={onDone}>
        Understood
      </button>
    </aside>
  );
}
