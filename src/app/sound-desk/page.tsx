import { SoundDesk } from '@/media/sound/ui/desk/SoundDesk';

export default function SoundDeskPage() {
  return <SoundDesk />;
}
