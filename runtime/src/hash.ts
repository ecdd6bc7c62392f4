/**
 * MurmurHash3_x86_32 with seed 0 over the UTF-8 bytes of a text, divided by 2^32: a number in [0, 1).
 * Source: Austin Appleby, MurmurHash3 (SMHasher, public domain). PHP computes the same (core/src/Assignment).
 */
export function unitInterval(text: string): number {
    return murmur3(text, 0) / 4294967296;
}

const encoder = new TextEncoder();

export function murmur3(text: string, seed: number): number {
    const bytes = encoder.encode(text);
    const tail = bytes.length & ~3;
    let h = seed;
    for (let i = 0; i < tail; i += 4) {
        h ^= scramble(bytes[i] | (bytes[i + 1] << 8) | (bytes[i + 2] << 16) | (bytes[i + 3] << 24));
        h = (h << 13) | (h >>> 19);
        h = Math.imul(h, 5) + 0xe6546b64;
    }
    let k = 0;
    for (let i = bytes.length - 1; i >= tail; i--) {
        k = (k << 8) | bytes[i];
    }
    h ^= scramble(k) ^ bytes.length;
    h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
    h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);

    return (h ^ (h >>> 16)) >>> 0;
}

function scramble(k: number): number {
    k = Math.imul(k, 0xcc9e2d51);

    return Math.imul((k << 15) | (k >>> 17), 0x1b873593);
}
