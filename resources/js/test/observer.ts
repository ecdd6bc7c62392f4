/** In jsdom nothing has a size, and nothing observes one. */
export class NoResizeObserver {
    observe(): void {}
    unobserve(): void {}
    disconnect(): void {}
}
