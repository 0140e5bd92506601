import { Suspense } from 'react';
import { ActivityScreen } from '@/ui/activity/ActivityScreen';

export default function ActivityPage() {
  return (
    <Suspense>
      <ActivityScreen />
    </Suspense>
  );
}
