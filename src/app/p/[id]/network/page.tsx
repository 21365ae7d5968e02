import { Network } from '@/stages/network/Network';

export default function NetworkPage() {
  return <Network />;
}
