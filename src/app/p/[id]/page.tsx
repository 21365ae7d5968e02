import { redirect } from 'next/navigation';

export default async function ProjectPage({
  params,
}: {
  readonly params: Promise<{ id: string }>;
}) {
  redirect(`/p/${(await params).id}/brief`);
}
