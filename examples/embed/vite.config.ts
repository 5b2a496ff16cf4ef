import { defineConfig, type Plugin } from 'vite'
import { serveHoney } from './serve.mjs'

/** The page asks its own origin; what it may see is decided here, by a token that the page never has. */
function behindThePage(): Plugin {
  let end = async (): Promise<void> => undefined
  return {
    name: 'behind-the-page',
    apply: 'serve',
    async config() {
      const served = await serveHoney()
      end = served.end
      const headers = { authorization: `Bearer ${served.token}` }
      return { server: { proxy: { '/books': { target: served.url, headers } } } }
    },
    configureServer({ httpServer }) {
      httpServer?.once('close', () => void end())
    },
  }
}

export default defineConfig({ plugins: [behindThePage()] })
