/**
 * `npm run browsers`: walks the demo in Chromium, Firefox and WebKitGTK over WebDriver. Installs what is
 * missing. Ends with `N passed, N failed` alone on a line.
 */
import { build, debian, install, tsx } from './prepare.mjs';

try {
  await install();
  await build();
  await debian({
    '/usr/bin/chromium': 'chromium',
    '/usr/bin/chromedriver': 'chromium-driver',
    '/usr/bin/firefox-esr': 'firefox-esr',
    '/usr/bin/WebKitWebDriver': 'webkit2gtk-driver',
    '/usr/bin/Xvfb': 'xvfb',
  });
  await tsx('demo/make.ts', ['.sampan/browsers', '--items', '400', '--days', '6']);
  await tsx('e2e/browsers/run.ts', process.argv.slice(2));
} catch (error) {
  console.error(error.message);
  process.exit(error.code ?? 1);
}
