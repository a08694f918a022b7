import { problemOf } from '@/core/errors/yarvo-error';
import type { SourceFile } from '@/formats/files/companions';
import { stow, unstow, type StowedMessage } from './stow';
import {
  carryToMany,
  companions,
  handoff,
  inspectMotion,
  intake,
  listContents,
  match,
  movement,
  writeMotions,
  type Envelope,
  type IntakeTask,
} from './tasks';

/** A piece of work, as it comes over the channel. */
export type WorkOrder =
  | { readonly name: 'intake'; readonly task: IntakeTask }
  | { readonly name: 'match'; readonly task: Parameters<typeof match>[0] }
  | { readonly name: 'companions'; readonly task: Parameters<typeof companions>[0] }
  | { readonly name: 'listContents'; readonly task: Parameters<typeof listContents>[0] }
  | { readonly name: 'inspectMotion'; readonly task: Parameters<typeof inspectMotion>[0] }
  | { readonly name: 'carryToMany'; readonly task: Parameters<typeof carryToMany>[0] }
  | { readonly name: 'writeMotions'; readonly task: Parameters<typeof writeMotions>[0] }
  | { readonly name: 'movement'; readonly task: Parameters<typeof movement>[0] }
  | { readonly name: 'handoff'; readonly task: Parameters<typeof handoff>[0] };

/** What comes over the channel may lie at any offset of a larger buffer; readers lay views of numbers over files. */
const aligned = (bytes: Uint8Array): Uint8Array => new Uint8Array(bytes);
const alignedFiles = (files: readonly SourceFile[]): SourceFile[] =>
  files.map((file) => ({ ...file, bytes: aligned(file.bytes) }));

function carryOut(order: WorkOrder): Promise<Envelope<unknown>> {
  switch (order.name) {
    case 'intake':
      return intake({ ...order.task, files: alignedFiles(order.task.files) });
    case 'match':
      return match(order.task);
    case 'companions':
      return companions({ ...order.task, canonical: aligned(order.task.canonical) });
    case 'listContents':
      return listContents({ ...order.task, files: alignedFiles(order.task.files) });
    case 'inspectMotion':
      return inspectMotion({ ...order.task, bytes: aligned(order.task.bytes) });
    case 'carryToMany':
      return carryToMany(order.task);
    case 'writeMotions':
      return writeMotions({
        ...order.task,
        items: order.task.items.map((item) => ({ ...item, canonical: aligned(item.canonical) })),
      });
    case 'movement': {
      const { before, after } = order.task;
      const side = (each: typeof before) => ({ ...each, geometry: aligned(each.geometry) });
      return movement({ ...order.task, before: side(before), after: side(after) });
    }
    case 'handoff':
      return handoff({ ...order.task, canonical: aligned(order.task.canonical) });
    default:
      return order satisfies never;
  }
}

/** An order on its way to a worker; the answer's large arrays are written into `folder`. */
export interface Parcel extends StowedMessage {
  readonly folder: string;
}

async function answer({ folder, ...parcel }: Parcel): Promise<StowedMessage> {
  return stow(await carryOut((await unstow(parcel)) as WorkOrder), folder);
}

process.on('message', (parcel: Parcel) => {
  void answer(parcel)
    .catch((error: unknown): StowedMessage => {
      const envelope: Envelope<never> = {
        ok: false,
        problem: problemOf(error, 'worker'),
        stack: (error as Error).stack,
      };
      return { value: envelope, stowed: [] };
    })
    .then((message) => process.send?.(message));
});
// Nobody is left to work for.
process.on('disconnect', () => process.exit(0));
