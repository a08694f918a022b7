import type { MotionList } from '@/contract/motions';
import { shownTexts } from '@/core/text/shown-text';
import { readConfig } from '../settings/config';
import { listMotionRows, motionView } from './motion-repository';

/** The shelf as screens hold it. */
export async function readShelf(): Promise<MotionList> {
  const views = await Promise.all((await listMotionRows()).map(motionView));
  return shownTexts({ motions: views.filter((view) => view !== null), mostFrames: readConfig().mostFrames });
}
