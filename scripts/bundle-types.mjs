import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { rollup } from 'rollup'
import { dts } from 'rollup-plugin-dts'

const root = fileURLToPath(new URL('../', import.meta.url))

/** Rolls up the declarations of a package, from where `tsc -b` puts them to where its exports name them. */
export async function bundleTypes(folder, doors) {
  const dist = join(root, 'packages', folder, 'dist')
  const bundle = await rollup({
    input: Object.fromEntries(doors.map((door) => [door, join(dist, 'types', `${door}.d.ts`)])),
    external: (id) => !id.startsWith('.') && !id.startsWith('/'),
    plugins: [dts()],
    onwarn: (warning) => {
      throw new Error(`types of ${folder}: ${warning.message}`)
    },
  })
  await bundle.write({ dir: dist, format: 'es', entryFileNames: '[name].d.ts', chunkFileNames: 'shared-[hash].d.ts' })
  await bundle.close()
}
