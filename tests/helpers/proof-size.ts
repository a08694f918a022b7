/** With `YARVO_PROOFS=whole` the long proofs run whole; else a small sample of each, which `./test` has the time for. */
const isWholeProof = process.env.YARVO_PROOFS === 'whole';

export const proofSize = <Size>(sample: Size, whole: Size): Size => (isWholeProof ? whole : sample);
