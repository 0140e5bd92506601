import DescriptionOutlined from '@mui/icons-material/DescriptionOutlined';
import GraphicEqRounded from '@mui/icons-material/GraphicEqRounded';
import ImageOutlined from '@mui/icons-material/ImageOutlined';
import DataArrayRounded from '@mui/icons-material/DataArrayRounded';

const ICONS: Record<string, typeof ImageOutlined> = {
  picture: ImageOutlined,
  sound: GraphicEqRounded,
  text: DescriptionOutlined,
};

export function KindIcon({ kind }: { kind: string }) {
  const Icon = ICONS[kind] ?? DataArrayRounded;
  return <Icon aria-label={kind} sx={{ fontSize: 18, color: 'ink2' }} />;
}
