import { Baffle } from '@/stages/baffle/Baffle';

export default function BafflePage() {
  return <Baffle />;
}
