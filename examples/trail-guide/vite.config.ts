import { defineConfig } from 'vite'
import { zincPantry } from 'zinc-pantry/vite'
import { servePages } from './serve-pages.ts'

export default defineConfig(({ isPreview }) => ({
  // What is built are files; while it is worked on, pages are rendered.
  appType: isPreview ? 'mpa' : 'custom',
  // The content, and its configuration, are those of the demo; tests bring a copy.
  plugins: [zincPantry({ root: process.env.GUIDE_SITE ?? '../fellmark' }), servePages()],
  build: { manifest: true, rolldownOptions: { input: 'src/client.ts' } },
}))
