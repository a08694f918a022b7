/** Bones nearer to each other than this share of the rig's size stand at one place. */
export const SAME_PLACE_SHARE = 0.004;

/** A segment shorter than this share of the rig's size is none of a limb. */
export const SEGMENT_SHARE = 0.05;
