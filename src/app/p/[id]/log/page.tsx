import { Log } from '@/stages/log/Log';

export default function LogPage() {
  return <Log />;
}
