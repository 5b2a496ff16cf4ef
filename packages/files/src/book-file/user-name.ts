import { userInfo } from 'node:os'

/** The name of who runs this process; its number where the system knows no name for it, as in many containers. */
export function userName(): string {
  try {
    return userInfo().username
  } catch {
    return `user ${process.getuid?.() ?? 'unknown'}`
  }
}
