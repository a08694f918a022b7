/** What can be done about a finding, in the order in which it is carried out, whatever the order of choosing. */
export const REPAIR_KINDS = [
  'fold-copies',
  'drop-extras',
  'drop-static-parts',
  'drop-vertices',
  'bind-loose-vertices',
  'move-root-weights',
  'move-stray-weights',
  'prune-weights',
  'reduce-influences',
  'normalise-weights',
  'mend-binds',
  'merge-skins',
  'split-parts',
  'drop-empty-morphs',
  'sort-keys',
  'drop-rest-keys',
  'drop-foreign-clips',
  'resample-clips',
  'resize-textures',
  'single-sided',
  'drop-leftover-bones',
  'scale-to-height',
  'add-root',
  'add-helpers',
  're-orient',
  'align-posture',
] as const;
export type RepairKind = (typeof REPAIR_KINDS)[number];

/** What a repair does, as its button says it. */
export const REPAIR_TEXT: Readonly<Record<RepairKind, string>> = {
  'fold-copies': 'Fold copied bones',
  'drop-extras': 'Leave out further trees',
  'drop-static-parts': 'Leave out unbound parts',
  'drop-vertices': 'Drop vertices without a place',
  'bind-loose-vertices': 'Bind loose vertices',
  'move-root-weights': 'Move weights to the hips',
  'move-stray-weights': 'Move weights to their side',
  'prune-weights': 'Prune small weights',
  'reduce-influences': 'Reduce influences',
  'normalise-weights': 'Normalise weights',
  'mend-binds': 'Mend bind matrices',
  'merge-skins': 'Merge skins',
  'split-parts': 'Split parts',
  'drop-empty-morphs': 'Drop empty morph targets',
  'sort-keys': 'Sort keys',
  'drop-rest-keys': 'Leave out clips at rest',
  'drop-foreign-clips': 'Leave out foreign clips',
  'resample-clips': 'Resample clips',
  'resize-textures': 'Resize textures',
  'single-sided': 'Draw from one side',
  'drop-leftover-bones': 'Merge bones that move nothing',
  'scale-to-height': 'Scale to an allowed height',
  'add-root': 'Add a root',
  'add-helpers': 'Add helper bones',
  're-orient': 'Turn joints to these axes',
  'align-posture': 'Align the posture',
};

/** Take something away that is seen: only a person chooses them. */
const UNSAFE: ReadonlySet<RepairKind> = new Set(['drop-static-parts', 'single-sided']);
export const SAFE_REPAIRS: readonly RepairKind[] = REPAIR_KINDS.filter((kind) => !UNSAFE.has(kind));
