import { useRef, useState, type PointerEvent } from 'react';

interface Props {
    width: number;
    height: number;
    /** What is chosen already, in pixels. */
    chosen: [number, number] | null;
    onBrush: (from: number, to: number) => void;
}

const LEAST = 4;

/** A stretch is chosen by dragging over the picture. The fields beside the picture do the same for the keyboard. */
export function Brush({ width, height, chosen, onBrush }: Props) {
    const [drag, setDrag] = useState<[number, number] | null>(null);
    const rect = useRef<SVGRectElement>(null);
    const at = (event: PointerEvent): number => {
        const box = rect.current?.getBoundingClientRect();

        return box ? Math.max(0, Math.min(width, ((event.clientX - box.left) / box.width) * width)) : 0;
    };
    const shown = drag ?? chosen;

    return (
        <g>
            <rect
                ref={rect}
                width={width}
                height={height}
                fill="transparent"
                className="cursor-crosshair touch-pan-y"
                onPointerDown={(event) => {
                    event.currentTarget.setPointerCapture(event.pointerId);
                    setDrag([at(event), at(event)]);
                }}
                onPointerMove={(event) => setDrag((before) => before && [before[0], at(event)])}
                onPointerUp={() => {
                    if (drag && Math.abs(drag[1] - drag[0]) >= LEAST) {
                        onBrush(Math.min(...drag), Math.max(...drag));
                    }
                    setDrag(null);
                }}
                onPointerCancel={() => setDrag(null)}
            />
            {shown && (
                <rect
                    x={Math.min(...shown)}
                    width={Math.abs(shown[1] - shown[0])}
                    height={height}
                    fill="#0F6B8A"
                    fillOpacity={0.12}
                    stroke="#0F6B8A"
                    pointerEvents="none"
                />
            )}
        </g>
    );
}
