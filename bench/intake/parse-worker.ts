import { openGlb } from '@/formats/gltf/open-glb';
import type { WorkOrder } from '@/workers/server/main';

/** A worker that parses what it is sent and does nothing else: what the whole intake is held against. */
process.on('message', (order: WorkOrder) => {
  if (order.name !== 'listContents') return;
  const [{ bytes, path }] = order.task.files;
  void openGlb(Uint8Array.from(bytes), path).then((document) =>
    process.send?.({ ok: true, value: document.getRoot().listNodes().length }),
  );
});
process.on('disconnect', () => process.exit(0));
