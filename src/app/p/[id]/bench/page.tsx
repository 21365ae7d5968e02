import { Bench } from '@/stages/bench/Bench';

export default function BenchPage() {
  return <Bench />;
}
