import { defineConfig } from 'vite'
import { zincPantry } from 'zinc-pantry/vite'

export default defineConfig({ plugins: [zincPantry()] })
