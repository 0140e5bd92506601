import { Readable } from 'node:stream';
import { receiveBlob } from '@/server/storage/storage';
import { UserError } from '@/platform/user-error';

/**
 * Keeps the body of a request, which is a file, as it comes in. Throws UserError where there is none, or where fewer bytes came than
 * were announced.
 */
export async function receiveFile(
  request: Request,
  name: string,
  most?: number,
): Promise<{ sha256: string; size: number }> {
  if (!request.body) throw new UserError(400, `${name} is empty. Nothing was changed.`);
  const announced = request.headers.get('content-length');
  const file = await receiveBlob(Readable.fromWeb(request.body as never), most);
  if (announced !== null && Number(announced) !== file.size)
    throw new UserError(
      400,
      `Of the ${announced} bytes of ${name} only ${file.size} arrived. Nothing was changed. Give it again.`,
    );
  return file;
}
