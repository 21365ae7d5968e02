import { Brief } from '@/stages/brief/Brief';

export default function BriefPage() {
  return <Brief />;
}
