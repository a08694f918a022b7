'use client';

import { useKeptNumber } from '@/ui/use-kept';

/** Percent from which proposals can be settled together; below the first nothing is proposed. */
export const SETTLE_ABOVE = [75, 80, 85, 90, 95, 99] as const;

/** The confidence from which a person settles in bulk, in percent. */
export const useSettleAbove = () => useKeptNumber('yarvo-settle-above', SETTLE_ABOVE, 90);
