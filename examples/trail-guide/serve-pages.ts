import type { Plugin, ViteDevServer } from 'vite'

/** Renders a page whenever it is asked for, while the site is being worked on. */
export function servePages(): Plugin {
  return {
    name: 'serve-pages',
    // After Vite's own answers, so that only pages are left.
    configureServer: (server) => () => {
      server.middlewares.use(async (request, response, next) => {
        try {
          const path = decodeURI((request.originalUrl ?? '/').replace(/[?#].*$/, ''))
          const { status, type, text } = await renderPath(server, path)
          response.statusCode = status
          response.setHeader('content-type', type)
          response.end(text)
        } catch (error) {
          next(error)
        }
      })
    },
  }
}

async function renderPath(server: ViteDevServer, path: string) {
  const { createGuide } = (await server.ssrLoadModule('/src/guide.ts')) as typeof import('./src/guide.ts')
  const file = await createGuide({ today: new Date().toISOString().slice(0, 10) }).file(path, {
    style: '/src/style.css',
    script: '/src/client.ts',
  })
  const text = file.type.startsWith('text/html') ? await server.transformIndexHtml(path, file.text) : file.text
  return { ...file, text }
}
