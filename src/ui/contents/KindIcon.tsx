import DescriptionOutlined from '@mui/icons-material/DescriptionOutlined';
import GraphicEqRounded from '@mui/icons-material/GraphicEqRounded';
import ImageOutlined from '@mui/icons-material/ImageOutlined';
import DataArrayRounded from '@mui/icons-material/DataArrayRounded';
import FolderZipOutlined from '@mui/icons-material/FolderZipOutlined';
import MovieOutlined from '@mui/icons-material/MovieOutlined';
import TerminalRounded from '@mui/icons-material/TerminalRounded';
import ViewInArOutlined from '@mui/icons-material/ViewInArOutlined';

const ICONS: Record<string, typeof ImageOutlined> = {
  picture: ImageOutlined,
  sound: GraphicEqRounded,
  text: DescriptionOutlined,
  film: MovieOutlined,
  model: ViewInArOutlined,
  archive: FolderZipOutlined,
  program: TerminalRounded,
};

export function KindIcon({ kind }: { kind: string }) {
  const Icon = ICONS[kind] ?? DataArrayRounded;
  return <Icon aria-label={kind} sx={{ fontSize: 18, color: 'ink2' }} />;
}
