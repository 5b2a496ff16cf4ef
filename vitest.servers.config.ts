import { mergeConfig } from 'vitest/config'
import base from './vitest.config.js'

/** Tests against servers that they start themselves: PostgreSQL of the system. They are apart, since not every machine has it. */
const { projects: _, ...test } = base.test ?? {}
export default mergeConfig(
  { ...base, test },
  { test: { include: ['packages/*/tests/servers/**/*.server-test.ts'], testTimeout: 120_000, hookTimeout: 120_000 } },
)
