/* global process, URL, TextEncoder, TextDecoder */
/**
 * Runs a site's file before it is served, the way a browser would read it, and holds what it decides against the vectors that PHP
 * gives (of the experiments in it) and against those that PHP and the browser share. Reads
 * {"file","site","number","experiments":[{"key","units":[{"unit","in","variant","bucket"}],"pages":[{"url","matches"}]}],"vectors":[folder]}
 * and writes {"wrong": null} or {"wrong": "what"}.
 */
import { readFileSync } from 'node:fs';
import { createContext, Script } from 'node:vm';

const MOST_MS = 3000;

const given = JSON.parse(readFileSync(0, 'utf8'));
process.stdout.write(JSON.stringify({ wrong: check() }));

function check() {
    let got = null;
    const page = { pellixCheck: (own) => (got = own), URL, TextEncoder, TextDecoder, encodeURIComponent, decodeURIComponent };
    page.window = page.self = page.globalThis = page;
    page.addEventListener = () => {};
    page.document = { cookie: '', addEventListener: () => {} };
    page.navigator = { userAgent: '' };
    page.location = { href: 'https://check.invalid/', hostname: 'check.invalid', pathname: '/', origin: 'https://check.invalid' };
    try {
        new Script(given.file, { filename: 'the site file' }).runInContext(createContext(page), { timeout: MOST_MS });
    } catch (error) {
        return `It does not run: ${error.message}.`;
    }
    const site = page.pellixSite;
    if (!got || typeof got.assign !== 'function') {
        return 'The runtime is not in it, or did not begin.';
    }
    if (!site || site.site !== given.site || site.number !== given.number) {
        return 'It is not the file of this site, or not of this number.';
    }

    return experiments(site, got) ?? shared(got);
}

function experiments(site, { assign, matches, addressFacts }) {
    for (const wanted of given.experiments) {
        const own = site.experiments.find(({ key }) => key === wanted.key);
        if (!own) {
            return `The experiment ${wanted.key} is not in it.`;
        }
        for (const one of wanted.units) {
            const found = assign(own, one.unit);
            if (found.in !== one.in || (found.variant?.key ?? null) !== one.variant || found.bucket !== one.bucket) {
                return `The experiment ${wanted.key} would give the visitor ${one.unit} ${found.variant?.key ?? 'nothing'}, and not ${one.variant ?? 'nothing'}.`;
            }
        }
        for (const { url, matches: is } of wanted.pages) {
            if (matches(own.pages, addressFacts(url)) !== is) {
                return `The page rule of ${wanted.key} would ${is ? 'not ' : ''}match ${url}.`;
            }
        }
    }

    return null;
}

/** What both sides agreed on once and for all. */
function shared({ assign, matches, addressFacts }) {
    for (const folder of given.vectors) {
        for (const { salt, share, variants, group, units } of JSON.parse(readFileSync(`${folder}/assignment.json`, 'utf8'))) {
            const sum = variants.reduce((all, [, weight]) => all + weight, 0);
            let end = 0;
            const declared = variants.map(([key, weight]) => ({ key, end: (end += weight) / sum, changes: [] }));
            const compiled = { salt, share, variants: declared, ...(group ? { group: { key: group[0], from: group[1] } } : {}) };
            const wrong = units.find((one) => {
                const found = assign(compiled, one.unit);

                return found.in !== one.in || found.bucket !== one.bucket || (found.variant?.key ?? null) !== one.variant;
            });
            if (wrong) {
                return `The runtime assigns ${wrong.unit} otherwise than agreed.`;
            }
        }
        for (const [rule, addresses] of JSON.parse(readFileSync(`${folder}/rules.json`, 'utf8'))) {
            const wrong = Object.entries(addresses).find(([url, is]) => matches(rule, addressFacts(url)) !== is);
            if (wrong) {
                return `The runtime judges ${wrong[0]} otherwise than agreed.`;
            }
        }
    }

    return null;
}
