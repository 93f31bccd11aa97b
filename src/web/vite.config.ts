import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

// `npm run dev` talks to a server started by ./lark demo.
const server = process.env.LARK_SERVER ?? 'http://127.0.0.1:5400';

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { target: 'es2022', assetsInlineLimit: 0 },
  // The address stays the page's own: the server refuses what another site's page asks.
  server: { proxy: { '/api': { target: server }, '/connect': { target: server } } },
});
