/*
 * Compares two pictures of a page, and outlines what is different.
 *
 *   node compare.mjs CONTROL CONTROL-AGAIN VARIANT OUT
 *
 * Anti-aliasing is tolerated (pixelmatch), and so is whatever the control itself does not show twice alike. Writes the variant
 * with its differences outlined to OUT, and tells on standard output where they are: {"width","height","pixels","boxes":[[x,y,w,h],…]}.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import pixelmatch from 'pixelmatch';
import { PNG } from 'pngjs';

const CELL = 16;
const MOST_BOXES = 40;
const LINE = [179, 38, 30, 255];

const [control, again, variant] = process.argv.slice(2, 5).map((file) => PNG.sync.read(readFileSync(file)));
const width = Math.min(control.width, again.width, variant.width);
const height = Math.min(control.height, again.height, variant.height);

/** Both cut to the same size: a page may have become longer. */
const cut = (picture) => {
    const out = new PNG({ width, height });
    PNG.bitblt(picture, out, 0, 0, width, height, 0, 0);
    return out.data;
};
const differences = (a, b) => {
    const mask = new PNG({ width, height });
    const pixels = pixelmatch(cut(a), cut(b), mask.data, width, height, { threshold: 0.1, includeAA: false, diffMask: true });
    return { pixels, mask: mask.data };
};

const restless = differences(control, again);
const changed = differences(control, variant);
const columns = Math.ceil(width / CELL);
const rows = Math.ceil(height / CELL);
const cells = new Uint32Array(columns * rows);
let pixels = 0;
for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
        const at = 4 * (y * width + x) + 3;
        if (changed.mask[at] > 0 && restless.mask[at] === 0) {
            pixels++;
            cells[Math.floor(y / CELL) * columns + Math.floor(x / CELL)]++;
        }
    }
}

/** Cells that touch belong together. */
const boxes = [];
const seen = new Uint8Array(cells.length);
for (let start = 0; start < cells.length; start++) {
    if (cells[start] < 2 || seen[start]) {
        continue;
    }
    let [left, top, right, bottom] = [columns, rows, 0, 0];
    const open = [start];
    seen[start] = 1;
    while (open.length > 0) {
        const cell = open.pop();
        const [x, y] = [cell % columns, Math.floor(cell / columns)];
        [left, top, right, bottom] = [Math.min(left, x), Math.min(top, y), Math.max(right, x), Math.max(bottom, y)];
        for (let dy = -1; dy <= 1; dy++) {
            for (let dx = -1; dx <= 1; dx++) {
                const [nx, ny] = [x + dx, y + dy];
                const next = ny * columns + nx;
                if (nx >= 0 && ny >= 0 && nx < columns && ny < rows && cells[next] >= 2 && !seen[next]) {
                    seen[next] = 1;
                    open.push(next);
                }
            }
        }
    }
    boxes.push([
        left * CELL,
        top * CELL,
        Math.min(width, (right + 1) * CELL) - left * CELL,
        Math.min(height, (bottom + 1) * CELL) - top * CELL,
    ]);
}

const out = new PNG({ width, height });
cut(variant).copy(out.data);
for (const [x, y, w, h] of boxes.slice(0, MOST_BOXES)) {
    for (let i = 0; i < 2; i++) {
        for (let px = x; px < x + w; px++) {
            out.data.set(LINE, 4 * (Math.min(height - 1, y + i) * width + px));
            out.data.set(LINE, 4 * (Math.max(0, y + h - 1 - i) * width + px));
        }
        for (let py = y; py < y + h; py++) {
            out.data.set(LINE, 4 * (py * width + Math.min(width - 1, x + i)));
            out.data.set(LINE, 4 * (py * width + Math.max(0, x + w - 1 - i)));
        }
    }
}
writeFileSync(process.argv[5], PNG.sync.write(out));
process.stdout.write(JSON.stringify({ width, height, pixels, boxes: boxes.slice(0, MOST_BOXES) }));
