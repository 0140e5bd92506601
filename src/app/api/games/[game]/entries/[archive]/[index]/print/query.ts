import { z } from 'zod';
import { jsonText } from '@/app/api/json-text';
import { PrintSettings } from '@/media/model/core/print/settings';

/** How it is to be printed, as JSON. */
export const PrintQuery = z.object({ settings: jsonText('{}').pipe(PrintSettings) });
