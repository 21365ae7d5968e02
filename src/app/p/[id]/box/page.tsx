import { BoxStage } from '@/stages/box/BoxStage';

export default function BoxPage() {
  return <BoxStage />;
}
