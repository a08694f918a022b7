import { PostureStep } from '@/features/posture/PostureStep';

export default function Page() {
  return <PostureStep />;
}
