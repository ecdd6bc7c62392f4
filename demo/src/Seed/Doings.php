<?php

declare(strict_types=1);

namespace Demo\Seed;

use Demo\Library;
use Demo\Traffic\Dice;
use Pellix\Core\Formats\Moment;

/** What visitors of the demo do on its pages besides opening them: click, read, give. Invented habits. */
final readonly class Doings
{
    private const CLICKS = ['/' => 'html>body>main>p>a#browse.button', '/loan' => 'html>body>main>form>button#next.button', '/join' => 'html>body>main>form>button#join.button'];

    private const GIFTS = [20, 20, 20, 40, 40, 80];

    public function __construct(private Dice $dice)
    {
    }

    /** @return list<array<string, mixed>> */
    public function on(string $visitor, string $path, string $url, \DateTimeImmutable $time, int $stay): array
    {
        $events = [];
        if ($stay >= 10 && $this->dice->chance(0.5)) {
            $events[] = $this->event($visitor, 'engaged', $url, $time->modify("+{$stay} seconds"), ['seconds' => $stay]);
        }
        if (isset(self::CLICKS[$path]) && $this->dice->chance(0.45)) {
            $events[] = $this->event($visitor, 'click', $url, $time->modify('+5 seconds'), ['path' => self::CLICKS[$path]]);
        }
        if ($path === '/join/done') {
            // One member in thirty is told of without the length of the membership, which the plan requires.
            $props = $this->dice->chance(1 / 30) ? ['via' => 'form'] : ['via' => 'form', 'months' => $this->dice->chance(0.2) ? 24 : 12];
            $events[] = $this->event($visitor, 'member_joined', $url, $time->modify('+1 second'), $props);
        }
        if ($path === '/donate/thanks') {
            $gift = self::GIFTS[$this->dice->between(0, count(self::GIFTS) - 1)];
            $order = sprintf('G-%06d', $this->dice->between(0, 999_999));
            $pay = str_replace(Library::HOST, Library::PAY_HOST, (string) preg_replace('~\A(https?://[^/]+).*~', '$1/thanks', $url));
            $events[] = $this->event($visitor, 'order', $pay, $time->modify('+2 seconds'), ['order_id' => $order, 'value' => $gift, 'currency' => 'EUR', 'via' => 'pixel']);
        }

        return $events;
    }

    /**
     * @param array<string, mixed> $props
     *
     * @return array<string, mixed>
     */
    private function event(string $visitor, string $name, string $url, \DateTimeImmutable $time, array $props): array
    {
        return ['id' => $this->dice->id(), 'visitor' => $visitor, 'time' => Moment::format($time), 'name' => $name, 'url' => $url, 'referrer' => '', 'props' => $props];
    }
}
