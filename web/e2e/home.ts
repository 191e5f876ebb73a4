import { execFileSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, renameSync } from 'node:fs'
import { join } from 'node:path'

/** The instance under test, seen from the file system. */
export const home = process.env.VELVET_HOME ?? join(import.meta.dirname, '../../var/home')
export const drives = { shelf: join(home, 'demo/drives/Studio'), twin: join(home, 'demo/drives/Twin') }

export const bay = (label: string) => join(home, 'demo/bay', label)

export const putIn = (label: string) => {
  renameSync(join(home, 'demo/tray', label), bay(label))
}
export const takeOut = (label: string) => {
  renameSync(bay(label), join(home, 'demo/tray', label))
}

/** Every file below a folder that has its final name. */
export function names(root: string): string[] {
  return readdirSync(root, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && !entry.name.startsWith('.'))
    .map((entry) => join(entry.parentPath, entry.name))
}

/** Every file below a folder with its digest, by relative path. */
export function tree(root: string): Map<string, string> {
  const files = new Map<string, string>()
  for (const entry of readdirSync(root, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile()) continue
    const path = join(entry.parentPath, entry.name)
    try {
      files.set(path.slice(root.length + 1), digest(path))
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error // else it has gone meanwhile
    }
  }
  return files
}

export function digest(path: string): string {
  return createHash('sha256').update(readFileSync(path)).digest('hex')
}

/**
 * Takes one of the demo's drives off: a file system of its own, or where nothing can be mounted its folder. @returns
 * what connects it again
 */
export function unplug(name: 'Studio' | 'Twin'): () => void {
  const folder = join(home, 'demo/drives', name)
  const image = join(home, 'demo', `${name}.img`)
  if (existsSync(image)) {
    execFileSync('umount', ['-l', folder])
    return () => {
      execFileSync('mount', ['-o', 'loop', image, folder])
    }
  }
  renameSync(folder, `${folder}-unplugged`)
  return () => {
    renameSync(`${folder}-unplugged`, folder)
  }
}

/** Starts or stops supervised programs, as `work:watch` or `work:copies_*`. */
export function supervise(what: 'start' | 'stop', ...programs: string[]): void {
  execFileSync('supervisorctl', ['-c', join(home, 'etc/supervisord.conf'), what, ...programs])
}

/** Kills one of the supervised programs the hard way. */
export function kill(program: string): void {
  const pid = execFileSync('supervisorctl', ['-c', join(home, 'etc/supervisord.conf'), 'pid', program])
    .toString()
    .trim()
  process.kill(Number(pid), 'SIGKILL')
}
