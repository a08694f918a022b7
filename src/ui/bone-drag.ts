/** Kind of data under which a dragged bone carries its index; nothing else on the page takes it. */
export const BONE_DRAG = 'application/x-yarvo-bone';
