import { existsSync } from 'node:fs';
import { forgetOldest, used } from './cache';

const running = new Map<string, Promise<string>>();

/** Makes a file of a folder of the cache where it is missing, once for all who ask meanwhile. @returns its path */
export async function cachedFile(path: string, folder: string, make: (path: string) => Promise<void>): Promise<string> {
  if (existsSync(path)) {
    await used(path);
    return path;
  }
  let made = running.get(path);
  if (!made) {
    made = (async () => {
      try {
        await make(path);
        await forgetOldest(folder);
        return path;
      } finally {
        running.delete(path);
      }
    })();
    running.set(path, made);
  }
  return made;
}
