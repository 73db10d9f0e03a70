import { fileURLToPath } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { ElementPlusResolver } from 'unplugin-vue-components/resolvers'
import Components from 'unplugin-vue-components/vite'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  base: '/static/',
  plugins: [
    vue(),
    Components({
      dirs: [],
      dts: 'src/components.d.ts',
      resolvers: [ElementPlusResolver({ importStyle: process.env.VITEST ? false : 'css' })],
    }),
  ],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  // Everything ships as files of its own: the page's content policy allows no inline scripts.
  build: { manifest: true, assetsInlineLimit: 0, modulePreload: { polyfill: false }, chunkSizeWarningLimit: 900 },
  server: { proxy: { '/api': 'http://127.0.0.1:8010', '/ws': { target: 'ws://127.0.0.1:8010', ws: true } } },
  // A busy machine must not turn a test red. Files share what they import, which takes most of their time.
  test: {
    include: ['src/**/*.test.ts'],
    testTimeout: 60_000,
    pool: 'threads',
    isolate: false,
    // Of Element Plus only what brings styles goes through the bundler; Node loads the rest faster by itself.
    server: { deps: { inline: [/element-plus\/es\/components\/[a-z-]+\/style/] } },
  },
})
