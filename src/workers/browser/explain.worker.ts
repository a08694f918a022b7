import { explainMatch, type ExplainRequest } from '@/core/match/explain';

/** Matching again with each kind of evidence alone takes as long as three intakes: not for the interface's thread. */
self.onmessage = ({ data }: MessageEvent<ExplainRequest>) => self.postMessage(explainMatch(data));
