import { redirect } from 'next/navigation';

export default async function Page({ params }: { params: Promise<{ characterId: string }> }) {
  redirect(`/characters/${encodeURIComponent((await params).characterId)}/match`);
}
