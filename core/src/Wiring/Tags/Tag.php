<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Tags;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Triggers\Trigger;

/** A piece of code that the runtime puts onto a page when one of its triggers says so. */
final readonly class Tag
{
    public const KEY = '/\A[a-z0-9][a-z0-9-]{0,59}\z/';

    public const KINDS = ['script', 'html', 'image'];

    /** What a visitor agrees to; `necessary` asks nobody. */
    public const CONSENTS = ['necessary', 'statistics', 'marketing'];

    private const LONGEST_CODE = 20_000;

    /**
     * @param string            $kind    `script`: JavaScript; `html`: markup, whose scripts run; `image`: an address that is asked for
     * @param string            $code    the JavaScript, the markup or the address
     * @param string            $consent one of CONSENTS
     * @param list<Trigger>     $triggers any of them fires the tag
     * @param string            $once    `page`, `session`, `visitor`, or `no`: at every trigger
     * @param string|null       $after   key of a tag that must have fired before
     */
    private function __construct(
        public string $key,
        public string $name,
        public string $kind,
        public string $code,
        public string $consent,
        public array $triggers,
        public string $once,
        public ?string $after,
    ) {
    }

    /**
     * From `{"key":"thanks","name":"…","kind":"script","code":"…","consent":"statistics","triggers":[TRIGGER],"once":"page","after":"other"}`.
     *
     * @param bool $toBeKept whether it will run: then a fact that is never known when it is asked for is refused
     *
     * @throws InvalidTag
     */
    public static function read(mixed $json, bool $toBeKept = false): self
    {
        $fields = new Fields($json, InvalidTag::class, 'A tag');
        $key = $fields->pattern('key', self::KEY, 'A tag key is 1 to 60 of a-z, 0-9 and "-", and starts with a letter or a digit.');
        $kind = $fields->word('kind', self::KINDS, '');
        $triggers = [];
        foreach ($fields->list('triggers') as $i => $trigger) {
            $triggers[] = Fields::within("triggers.{$i}", static fn (): Trigger => Trigger::read($trigger, $toBeKept), InvalidTag::class);
        }
        if ($triggers === []) {
            throw new InvalidTag('A tag without a trigger never fires; give it one.', 'triggers');
        }
        if (count($triggers) > 20) {
            throw new InvalidTag('A tag has at most 20 triggers.', 'triggers');
        }

        $tag = new self(
            $key,
            $fields->text('name', 120, $key),
            $kind,
            self::code($kind, $fields->text('code', self::LONGEST_CODE)),
            $fields->word('consent', self::CONSENTS, 'statistics'),
            $triggers,
            $fields->word('once', ['page', 'session', 'visitor', 'no'], 'page'),
            $fields->has('after') ? $fields->pattern('after', self::KEY, 'The key of another tag is needed.') : null,
        );
        $toBeKept && $fields->nothingElse();

        return $tag;
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return array_filter([
            'key' => $this->key,
            'name' => $this->name,
            'kind' => $this->kind,
            'code' => $this->code,
            'consent' => $this->consent,
            'triggers' => array_map(static fn (Trigger $trigger): array => $trigger->toArray(), $this->triggers),
            'once' => $this->once,
            'after' => $this->after,
        ], static fn (mixed $part): bool => $part !== null);
    }

    private static function code(string $kind, string $code): string
    {
        if ($kind === 'image' && preg_match('~\Ahttps?://[^\s"<>]+\z~i', $code) !== 1) {
            throw new InvalidTag('The address of the image is needed, beginning with https:// or http://.', 'code');
        }
        if ($kind === 'script' && preg_match('/\A\s*<script\b/i', $code) === 1) {
            throw new InvalidTag('JavaScript alone is needed, without <script> around it; for markup choose the kind HTML.', 'code');
        }

        return $code;
    }
}
