/** Raised whenever a reader may give another rig, geometry or motion for the same files and decisions. */
export const READER_VERSION = 4;

/** Raised whenever the matcher may give other proposals, confidences or spares for the same reading. */
export const MATCHER_VERSION = 4;

/** Raised whenever checks or measures may give other findings for the same fit; kept counts are derived again then. */
export const ASSESSMENT_VERSION = 9;
