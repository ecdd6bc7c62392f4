import { useEffect, useRef, useState } from 'react';
import type { Edge } from '../ticket';

export const FRAME = 'data-plx-frame';
const PATIENCE = 8000;

/**
 * The page once more, as wide as a smaller screen: its media conditions ask for the width of the frame. The Loupe's sheet lies beside it.
 */
export function WidthFrame({ width, edge }: { width: number; edge: Edge | null }) {
    const frame = useRef<HTMLIFrameElement>(null);
    const [isRefused, setIsRefused] = useState(false);
    useEffect(() => {
        const timer = window.setTimeout(() => {
            try {
                setIsRefused(!frame.current?.contentDocument?.body?.childElementCount);
            } catch {
                setIsRefused(true);
            }
        }, PATIENCE);

        return () => window.clearTimeout(timer);
    }, [width]);

    return (
        <div className={`cover ${edge ?? ''}`}>
            {isRefused ? (
                <p className="body">
                    This page does not let itself be shown in a frame. Choose “this window” and make the window as narrow as you like.
                </p>
            ) : (
                <iframe ref={frame} {...{ [FRAME]: '' }} title={`The page, ${width} pixels wide`} width={width} src={location.href} />
            )}
        </div>
    );
}
