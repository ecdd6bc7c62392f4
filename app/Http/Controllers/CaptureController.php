<?php

namespace App\Http\Controllers;

use App\Inventory\Inventory;
use App\Models\Site;
use App\Publishing\Publisher;
use App\ReadModel\Rebuild;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Validation\Rule;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Formats\Fields;
use Pellix\Core\Wiring\DataEvent;
use Pellix\Core\Wiring\InvalidWiring;

/** What a site's pages send, and under which conditions. */
class CaptureController extends Controller
{
    public function show(Site $site): JsonResponse
    {
        return response()->json([
            'data_layer' => $site->data_layer,
            'data_events' => array_map(static fn (DataEvent $one): array => $one->toArray(), $site->settings()->dataEvents),
            'consent_mode' => $site->consent_mode,
            'honour_gpc' => $site->honour_gpc,
            'session_minutes' => $site->session_minutes,
            'page_parameters' => $site->page_parameters,
        ]);
    }

    public function update(Request $request, Site $site, Publisher $publisher, Rebuild $rebuild, Inventory $inventory): JsonResponse
    {
        $given = $request->validate([
            'data_layer' => ['nullable', 'string', 'regex:/\A[A-Za-z_$][A-Za-z0-9_$]{0,63}\z/'],
            'data_events' => ['present', 'array', 'list', 'max:50'],
            'data_events.*' => ['array'],
            'consent_mode' => ['required', Rule::in(['none', 'ask'])],
            'honour_gpc' => ['required', 'boolean:strict'],
            'session_minutes' => ['required', 'integer', 'between:1,1440'],
            'page_parameters' => ['sometimes', 'array', 'list', 'max:10'],
            'page_parameters.*' => ['string', 'distinct', 'regex:/\A[^&=#\s]{1,60}\z/'],
        ], ['data_layer.regex' => 'The name of a variable on window is needed, such as shelf.', 'page_parameters.*.regex' => 'The name of a query parameter is needed, such as article.']);
        try {
            $given['data_events'] = array_map(
                static fn (array $one, int $i): array => Fields::within("data_events.{$i}", static fn (): array => DataEvent::read($one)->toArray(), InvalidWiring::class),
                $given['data_events'],
                array_keys($given['data_events']),
            );
        } catch (InvalidWiring $e) {
            throw ValidationException::withMessages([$e->field => $e->getMessage()]);
        }
        $recount = (int) $given['session_minutes'] !== $site->session_minutes;
        $rekey = isset($given['page_parameters']) && $given['page_parameters'] !== $site->page_parameters;
        $site->fill($given)->noteSince();
        $site->save();
        $publisher->publish($site);
        // Hits are counted by session: with another timeout they are counted anew.
        ($recount || $rekey) && $site->recount();
        if ($rekey) {
            // Which addresses are one page is another question now, for everything that was counted by pages.
            $inventory->rekey($site);
            $rebuild->begin($site);
        }

        return $this->show($site);
    }
}
