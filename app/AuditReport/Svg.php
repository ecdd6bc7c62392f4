<?php

declare(strict_types=1);

namespace App\AuditReport;

/** A picture of lines, bars and letters as SVG, in black, grey and stripes: it reads the same when it is printed without colour. */
final class Svg
{
    private const INK = '#1B2430';
    private const SOFT = '#5A6472';

    private string $body = '';

    public function __construct(private readonly int $width, private readonly int $height, private readonly string $words)
    {
    }

    public function line(float $x1, float $y1, float $x2, float $y2, bool $isDashed = false): void
    {
        $this->body .= "<line x1=\"{$this->n($x1)}\" y1=\"{$this->n($y1)}\" x2=\"{$this->n($x2)}\" y2=\"{$this->n($y2)}\" stroke=\"".self::INK.'"'.($isDashed ? ' stroke-dasharray="5 4"' : '').'/>';
    }

    /** @param list<array{float, float}> $points */
    public function path(array $points, float $wide = 1.8, bool $isDashed = false): void
    {
        if ($points !== []) {
            $this->body .= '<polyline fill="none" stroke="'.self::INK."\" stroke-width=\"{$this->n($wide)}\"".($isDashed ? ' stroke-dasharray="4 3"' : '').' points="'.implode(' ', array_map(fn (array $one): string => "{$this->n($one[0])},{$this->n($one[1])}", $points)).'"/>';
        }
    }

    /** @param list<array{float, float}> $points */
    public function area(array $points): void
    {
        if ($points !== []) {
            $this->body .= '<polygon fill="url(#stripes)" stroke="#7A7F87" stroke-width="0.7" points="'.implode(' ', array_map(fn (array $one): string => "{$this->n($one[0])},{$this->n($one[1])}", $points)).'"/>';
        }
    }

    public function bar(float $x, float $y, float $width, float $height, string $fill): void
    {
        $this->body .= "<rect x=\"{$this->n($x)}\" y=\"{$this->n($y)}\" width=\"{$this->n(max(0.8, $width))}\" height=\"{$this->n(max(0.0, $height))}\" fill=\"".['dark' => self::INK, 'mid' => '#8C939C', 'stripes' => 'url(#stripes)'][$fill].'" stroke="'.self::INK.'" stroke-width="0.6"/>';
    }

    public function text(float $x, float $y, string $text, string $anchor = 'start', bool $isStrong = false): void
    {
        $this->body .= "<text x=\"{$this->n($x)}\" y=\"{$this->n($y)}\" text-anchor=\"{$anchor}\" font-size=\"11\" fill=\"".($isStrong ? self::INK : self::SOFT).'"'.($isStrong ? ' font-weight="700"' : '').'>'.Html::escaped($text).'</text>';
    }

    public function __toString(): string
    {
        return "<svg viewBox=\"0 0 {$this->width} {$this->height}\" role=\"img\" aria-label=\"".Html::escaped($this->words).'"><defs><pattern id="stripes" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><line x1="0" y1="0" x2="0" y2="5" stroke="#B5B0A2" stroke-width="1.4"/></pattern></defs>'.$this->body.'</svg>';
    }

    private function n(float $number): string
    {
        return rtrim(rtrim(number_format($number, 1, '.', ''), '0'), '.');
    }
}
