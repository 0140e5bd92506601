import { ActivityScreen } from '@/ui/activity/ActivityScreen';

export default function ActivityPage() {
  return <ActivityScreen />;
}
