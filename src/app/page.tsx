import { ShelfScreen } from '@/ui/shelf/ShelfScreen';

export default function ShelfPage() {
  return <ShelfScreen />;
}
