/** `4.2 MB` */
export function bytes(n: number): string {
    const units = ['bytes', 'kB', 'MB', 'GB'];
    let at = 0;
    let value = n;
    while (value >= 1000 && at < units.length - 1) {
        value /= 1000;
        at++;
    }

    return `${at === 0 ? value : value.toFixed(1)}\u202f${units[at]}`;
}
