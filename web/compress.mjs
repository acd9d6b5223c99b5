// Writes every text file built into the folder named, in brotli and gzip beside itself, so that the server only picks one.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, constants, gzipSync } from 'node:zlib'

const folder = join(process.argv[2], 'assets')
for (const name of readdirSync(folder).filter((n) => /\.(js|css|svg)$/.test(n))) {
  const body = readFileSync(join(folder, name))
  const quality = { [constants.BROTLI_PARAM_QUALITY]: 9 }
  writeFileSync(join(folder, `${name}.br`), brotliCompressSync(body, { params: quality }))
  writeFileSync(join(folder, `${name}.gz`), gzipSync(body, { level: 9 }))
}
