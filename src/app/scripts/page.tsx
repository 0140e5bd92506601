import { ScriptsScreen } from '@/ui/scripts/ScriptsScreen';

export default function ScriptsPage() {
  return <ScriptsScreen />;
}
