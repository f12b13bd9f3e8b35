// Builds server and web application. npm packages stay outside the server's bundle; the workspaces go into it.
import { build } from 'esbuild';
import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { brotliCompressSync } from 'node:zlib';
import { ROOT } from './lib/project.mjs';
import { run } from './lib/run.mjs';

const outdir = path.join(ROOT, 'apps/server/dist');
rmSync(outdir, { recursive: true, force: true });

const packagesStayOutside = {
  name: 'packages-stay-outside',
  setup(setup) {
    setup.onResolve({ filter: /^[^./]/ }, ({ kind, path: name }) =>
      kind === 'entry-point' || name.startsWith('@yield/') ? undefined : { path: name, external: true },
    );
  },
};

await build({
  entryPoints: {
    main: path.join(ROOT, 'apps/server/src/main.ts'),
    traceTask: path.join(ROOT, 'apps/server/src/traces/traceTask.ts'),
    sheetTask: path.join(ROOT, 'apps/server/src/handover/sheetTask.ts'),
    demoTask: path.join(ROOT, 'apps/server/src/store/demoTask.ts'),
    jsonTask: path.join(ROOT, 'apps/server/src/json/jsonTask.ts'),
    exportTask: path.join(ROOT, 'apps/server/src/exchange/exportTask.ts'),
    importTask: path.join(ROOT, 'apps/server/src/exchange/importTask.ts'),
    summaryTask: path.join(ROOT, 'apps/server/src/store/summaryTask.ts'),
  },
  outdir,
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  sourcemap: true,
  logLevel: 'warning',
  absWorkingDir: ROOT,
  plugins: [packagesStayOutside],
});
await run('npm', ['run', '--silent', 'build', '--workspace', 'apps/web'], { cwd: ROOT });

// Packed once here, as tightly as it goes: packed on its way to the browser, a seventh more would travel.
const assets = path.join(ROOT, 'apps/web/dist/assets');
for (const name of readdirSync(assets).filter((each) => /\.(js|css)$/.test(each))) {
  writeFileSync(path.join(assets, `${name}.br`), brotliCompressSync(readFileSync(path.join(assets, name))));
}
