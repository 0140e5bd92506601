import type { PrintReport } from '../../core/print';
import type { PrintSettings } from '../../core/print/settings';

/** What the fields at the side of a print show and change. */
export interface SideProps {
  readonly settings: PrintSettings;
  readonly report: PrintReport | undefined;
  readonly onChange: (to: Partial<PrintSettings>) => void;
}
