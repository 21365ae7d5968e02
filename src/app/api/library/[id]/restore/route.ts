import { restoreLibraryDriver } from '@/server/library';
import { answer, libraryId } from '@/app/api/http';

export const POST = (_request: Request, { params }: { readonly params: Promise<{ id: string }> }) =>
  answer(async () => restoreLibraryDriver(libraryId((await params).id)));
