<?php

declare(strict_types=1);

namespace Demo\Practice;

use App\Inventory\Inventory;
use App\Models\Experiment;
use App\Models\Site;
use App\Models\User;
use Carbon\CarbonImmutable;
use Demo\Library;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Experiments\Experiment as Declared;

/** Two more sites of the demo, with experiments that were never started: for a rehearsal to find out why they should not be. */
final readonly class PracticeSites
{
    private const WARM = ['kind' => 'text', 'selector' => '#reserve', 'value' => 'Keep a chair for me'];

    private const OFFER = ['kind' => 'text', 'selector' => '#offer', 'value' => 'Four chairs are left for Saturday.'];

    public function __construct(private Inventory $inventory)
    {
    }

    public function make(User $person): void
    {
        $room = $this->site(Room::SITE_KEY, 'Larkhollow practice room', Room::HOST, 'none', $person);
        $asking = $this->site(Room::ASKING_KEY, 'Larkhollow members', Room::ASKING_HOST, 'ask', $person);
        foreach (self::experiments() as $key => $own) {
            $this->experiment($room, $key, $own);
        }
        $this->experiment($asking, 'agreed', ['name' => 'Asked, and agreed', 'changes' => [self::WARM]]);
        $this->experiment($asking, 'unasked', ['name' => 'A box that gives no consent', 'changes' => [self::WARM]]);
        $this->pages($room, Room::HOST, array_map(static fn (string $key, array $own): string => $own['page'] ?? "/{$key}", array_keys(self::experiments()), self::experiments()));
        $this->pages($asking, Room::ASKING_HOST, ['/agreed', '/unasked']);
    }

    /** @param list<string> $paths */
    private function pages(Site $site, string $host, array $paths): void
    {
        $origin = str_replace(Library::HOST, $host, (string) config('pellix.demo_origin'));
        $this->inventory->add($site, array_map(static fn (string $path): string => $origin.$path, array_values(array_unique($paths))), 'typed');
    }

    /** @return array<string, array<string, mixed>> key, which is the page's path, too => name, changes of the variant or its target, and what is different */
    private static function experiments(): array
    {
        return [
            'sound' => ['name' => 'A button that speaks for the visitor', 'changes' => [self::WARM]],
            'sound-styled' => ['name' => 'Several changes at once', 'changes' => [
                ['kind' => 'style', 'selector' => '#offer', 'property' => 'color', 'value' => '#7b3f7d'],
                ['kind' => 'sheet', 'value' => '.heading { letter-spacing: 0.02em; }'],
                ['kind' => 'insert', 'selector' => '#action', 'place' => 'after', 'value' => '<p class="kept">Kept until a quarter past ten.</p>'],
                ['kind' => 'attribute', 'selector' => '#reserve', 'attribute' => 'title', 'value' => 'One chair'],
                ['kind' => 'hide', 'selector' => '.note'],
                ['kind' => 'class', 'selector' => '#reserve', 'add' => ['glad']],
            ]],
            'sound-redirect' => ['name' => 'Another page for the workshop', 'target' => '/sound-target'],
            'outranked' => ['name' => 'A colour that does not show', 'changes' => [['kind' => 'sheet', 'value' => '.lead { color: #0f6b8a; }']]],
            'replaced' => ['name' => 'An offer that does not stay', 'changes' => [self::OFFER]],
            'covered' => ['name' => 'An offer behind a notice', 'changes' => [self::OFFER]],
            'untagged' => ['name' => 'A new button without its tag', 'changes' => [['kind' => 'html', 'selector' => '#action', 'value' => '<button class="button" type="button">Keep a chair for me</button>']], 'click' => '#action button'],
            'twice' => ['name' => 'A goal that fires twice', 'changes' => [self::WARM]],
            'comma' => ['name' => 'A price with a comma', 'changes' => [self::WARM]],
            'policy' => ['name' => 'A page with a strict policy', 'changes' => [self::WARM]],
            'forgetful' => ['name' => 'A page that tidies cookies away', 'changes' => [self::WARM]],
            'lost-query' => ['name' => 'A target that forgets the query', 'page' => '/sound', 'target' => '/lamplight'],
            'circle' => ['name' => 'A target that leads back', 'target' => '/back-room'],
            'unguarded' => ['name' => 'A page without a guard', 'changes' => [self::OFFER]],
            'throwing' => ['name' => 'A script that fails', 'changes' => [['kind' => 'script', 'value' => "document.querySelector('#chairs-left').textContent = 'Two chairs left';"]]],
            'telling' => ['name' => 'A form that tells too much', 'changes' => [self::WARM], 'goal' => ['key' => 'seat-kept', 'name' => 'Chair kept', 'kind' => 'page', 'role' => 'primary', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/telling/thanks']], 'steps' => [['do' => 'type', 'element' => '[name=mail]', 'value' => '{mail}'], ['do' => 'submit', 'element' => '#seat']]],
        ];
    }

    private function site(string $key, string $name, string $host, string $consent, User $person): Site
    {
        $site = Site::query()->create(['key' => $key, 'name' => $name, 'hosts' => [$host], 'time_zone' => 'Europe/Lisbon', 'currency' => 'EUR', 'cookie_days' => 15, 'srm_alpha' => 0.001, 'fresh_seconds' => 86400, 'consent_mode' => $consent]);
        $site->users()->attach($person, ['right' => 'own']);

        return $site;
    }

    /** @param array<string, mixed> $own */
    private function experiment(Site $site, string $key, array $own): void
    {
        $now = CarbonImmutable::now('UTC');
        $page = $own['page'] ?? "/{$key}";
        $goal = $own['goal'] ?? ['key' => 'chair-reserved', 'name' => 'Chair reserved', 'kind' => 'event', 'role' => 'primary', 'event' => 'chair_reserved', 'value' => ['prop' => 'price'], 'currency' => 'EUR'];
        $variants = [
            ['key' => 'control', 'name' => 'As it is', 'weight' => 50, 'control' => true, 'changes' => []],
            ['key' => 'warm', 'name' => 'In warmer words', 'weight' => 50, 'control' => false, 'changes' => $own['changes'] ?? [], ...(isset($own['target']) ? ['target' => $own['target']] : [])],
        ];
        $declared = Declared::read(['pellix' => 1, 'key' => $key, 'name' => $own['name'], 'salt' => "practice-{$key}", 'kind' => isset($own['target']) ? 'redirect' : 'in_page', 'variants' => $variants, 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => $page], 'goals' => [$goal]], true);
        $experiment = Experiment::query()->create([
            'site_id' => $site->id, 'key' => $key, 'name' => $declared->name, 'hypothesis' => 'A page that speaks to its reader fills more chairs.', 'state' => 'draft', 'salt' => $declared->salt, 'share' => 1, 'variants' => $variants,
            'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => $page], 'kind' => $declared->kind, 'owner' => 'Ines Calder', 'changed_at' => $now->subDays(2), 'revision' => 1,
        ]);
        $kept = $site->goals()->where('key', $goal['key'])->first() ?? $site->goals()->create(['key' => $goal['key'], 'name' => $goal['name'], 'definition' => array_diff_key($declared->goals[0]->toArray(), ['role' => 0]), 'revision' => 1]);
        $experiment->goals()->attach($kept, ['role' => 'primary', 'position' => 0]);
        $experiment->load('goals');
        $experiment->revisions()->create(['number' => 1, 'from' => $now->subDays(2), 'stage' => 'draft', 'declared' => $experiment->declaration(), 'changed' => [], 'author' => 'Ines Calder']);
        DB::table('rehearsal_scripts')->insert(['experiment_id' => $experiment->id, 'by' => 'Ines Calder', 'at' => $now->subDays(2)->format('Y-m-d H:i:s.v'), 'script' => json_encode(['pellix' => 1, 'steps' => [
            ['do' => 'open', 'path' => $page], ...$own['steps'] ?? [['do' => 'click', 'element' => $own['click'] ?? '#reserve']], ['do' => 'expect', 'goal' => $goal['key']],
        ]], JSON_THROW_ON_ERROR)]);
    }
}
