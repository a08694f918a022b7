import { IntakeStep } from '@/features/intake/IntakeStep';

export default function Page() {
  return <IntakeStep />;
}
