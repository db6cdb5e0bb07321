import { homedir, platform } from 'node:os'
import { join } from 'node:path'

/** Where data lie: YUZUMIX_DATA, else the platform's usual place for an application's data. */
export function dataFolder(env: NodeJS.ProcessEnv = process.env): string {
  if (env['YUZUMIX_DATA']) return env['YUZUMIX_DATA']
  const home = homedir()
  if (platform() === 'win32') return join(env['LOCALAPPDATA'] ?? join(home, 'AppData', 'Local'), 'Yuzumix')
  if (platform() === 'darwin') return join(home, 'Library', 'Application Support', 'Yuzumix')
  return join(env['XDG_DATA_HOME'] ?? join(home, '.local', 'share'), 'yuzumix')
}
