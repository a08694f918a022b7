import { DrillStep } from '@/features/drill/DrillStep';

export default function Page() {
  return <DrillStep />;
}
