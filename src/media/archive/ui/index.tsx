import FolderZipOutlined from '@mui/icons-material/FolderZipOutlined';
import type { MediumUi } from '@/media/medium-ui';

/** Archives on the screens. */
export const archiveUi: MediumUi = { kind: 'archive', Icon: FolderZipOutlined };
