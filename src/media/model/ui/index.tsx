import ViewInArOutlined from '@mui/icons-material/ViewInArOutlined';
import type { MediumUi } from '@/media/medium-ui';

/** Models on the screens. */
export const modelUi: MediumUi = { kind: 'model', title: 'Model', Icon: ViewInArOutlined };
