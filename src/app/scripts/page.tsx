import { Suspense } from 'react';
import { ScriptsScreen } from '@/ui/scripts/ScriptsScreen';

export default function ScriptsPage() {
  return (
    <Suspense>
      <ScriptsScreen />
    </Suspense>
  );
}
