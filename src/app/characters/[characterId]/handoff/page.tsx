import { HandoffStep } from '@/features/handoff/HandoffStep';

export default function Page() {
  return <HandoffStep />;
}
