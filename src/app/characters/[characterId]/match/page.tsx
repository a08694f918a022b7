import { MatchStep } from '@/features/match/MatchStep';

export default function Page() {
  return <MatchStep />;
}
