import { chromium } from '@playwright/test';
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
const p = await b.newPage({ viewport: { width: 1280, height: 800 } });
const base = `http://127.0.0.1:${process.argv[2]}`;
p.on('pageerror', (e) => console.log('ERR', e.message));
const jobs = await (await fetch(base + '/api/jobs')).json();
const job = jobs[0];
const step = process.argv[3]!;
if (step === 'desk') { await p.goto(base); await p.waitForTimeout(6000); await p.screenshot({ path: '/tmp/l1.png' });
 await p.goto(`${base}/jobs/${job.id}`); await p.waitForTimeout(6000); await p.screenshot({ path: '/tmp/l2.png' }); }
if (step === 'time') { await p.goto(`${base}/jobs/${job.id}/time`); await p.waitForTimeout(5000); await p.screenshot({ path: '/tmp/l1.png', fullPage: true });
 await p.goto(`${base}/jobs/${job.id}/logbook`); await p.waitForTimeout(4000); await p.screenshot({ path: '/tmp/l2.png' }); }
await b.close();
