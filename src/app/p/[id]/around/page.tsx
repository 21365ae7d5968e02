import { Around } from '@/stages/around/Around';

export default function AroundPage() {
  return <Around />;
}
