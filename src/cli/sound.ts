/** The sound decoder is linked against the system's sound library, which a bare machine lacks. */
import { say } from './failure';
import { run } from './process';

const PACKAGE = 'libasound2';

/** Installs the library where that can be done; without it only WAV is measured, and every sheet says so. */
export async function offerSoundLibrary(): Promise<void> {
  const there =
    (
      await run('bash', ['-c', 'ldconfig -p | grep -q libasound.so.2'], {
        env: { ...process.env, PATH: `${process.env.PATH}:/usr/sbin:/sbin` },
      })
    ).code === 0;
  const can = process.platform === 'linux' && process.getuid?.() === 0 && (await run('bash', ['-c', 'command -v apt-get'])).code === 0;
  if (there || !can) return;
  say(`Installing ${PACKAGE} (once) …`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  await run('apt-get', ['update', '-qq'], { env });
  const { code } = await run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', PACKAGE], { env });
  if (code !== 0) say(`${PACKAGE} could not be installed: the loudness of MP3, OGG, M4A and FLAC files will not be told.`);
}
