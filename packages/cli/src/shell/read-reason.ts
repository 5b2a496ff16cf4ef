/** Why a file cannot be read, in plain words. */
export function readReason(error: unknown): string {
  const { code, message } = error as NodeJS.ErrnoException
  if (code === 'ENOENT') return 'there is no such file.'
  if (code === 'EISDIR') return 'it is a folder.'
  return code === 'EACCES' ? 'it may not be read.' : message
}
