/** When somebody last touched the interface: views that refresh themselves are no sign that anybody is there. */
let last = Date.now();

for (const kind of ['pointerdown', 'keydown', 'wheel']) {
    addEventListener(kind, () => (last = Date.now()), { capture: true, passive: true });
}

export const untouchedSeconds = (): number => Math.min(999_999, Math.floor((Date.now() - last) / 1000));
