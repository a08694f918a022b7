import { FindingsStep } from '@/features/findings/FindingsStep';

export default function Page() {
  return <FindingsStep />;
}
