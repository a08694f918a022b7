import { openGlb } from '@/formats/gltf/open-glb';
import type { Parcel, WorkOrder } from '@/workers/server/main';
import { unstow } from '@/workers/server/stow';

/** A worker that parses what it is sent and does nothing else: what the whole intake is held against. */
process.on('message', (parcel: Parcel) => void parse(parcel));
async function parse(parcel: Parcel): Promise<void> {
  const order = (await unstow(parcel)) as WorkOrder;
  if (order.name !== 'listContents') return;
  const [{ bytes, path }] = order.task.files;
  const document = await openGlb(Uint8Array.from(bytes), path);
  process.send?.({ value: document.getRoot().listNodes().length, stowed: [] });
}
process.on('disconnect', () => process.exit(0));
