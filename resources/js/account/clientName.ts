/** Browser and system that a user agent claims to be; what says something else is shown as it is. */
export function clientName(agent: string): string {
    const browser = /Edg\//.test(agent)
        ? 'Edge'
        : /Firefox\//.test(agent)
          ? 'Firefox'
          : /Chrom(e|ium)\//.test(agent)
            ? 'Chrome'
            : /Safari\//.test(agent)
              ? 'Safari'
              : '';
    const system = /Android/.test(agent)
        ? 'Android'
        : /iPhone|iPad/.test(agent)
          ? 'iOS'
          : /Windows/.test(agent)
            ? 'Windows'
            : /Mac OS/.test(agent)
              ? 'macOS'
              : /Linux/.test(agent)
                ? 'Linux'
                : '';

    return browser ? `${browser}${system && ` on ${system}`}` : agent.slice(0, 60) || 'unknown';
}
