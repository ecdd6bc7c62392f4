# To be built into {!! $brief->site !!}: “{!! $brief->variant !!}”

From {!! $brief->author !!}. As of {{ $brief->now->format('j M Y, H:i') }} ({!! $brief->zone !!}). The experiment “{!! $brief->experiment !!}” has ended.

{!! $brief->message !!}

## 1. What is to be changed

@if ($brief->target !== null)
The page at `{!! $brief->target !!}` takes the place of the pages below.

@endif
@foreach ($brief->changes as $change)
- `{!! str_replace('`', '%60', $change['selector'] !== '' ? $change['selector'] : 'the whole page') !!}`: {!! $change['kind'] !!}

  Before:

  ```
  {!! str_replace(['```', "\n"], ["'''", "\n  "], $change['before'] ?? 'not known') !!}
  ```

  After:

  ```
  {!! str_replace(['```', "\n"], ["'''", "\n  "], $change['after']) !!}
  ```

@endforeach
## 2. On which pages, and how far it is

{{ $brief->taken }} of {{ $brief->known }} known pages show it themselves, as far as their HTML tells.

@foreach ($brief->pages as $page)
- `{!! str_replace('`', '%60', $page['url']) !!}`: {!! $page['state'] !!}
@endforeach

## 3. How to take the experiment away

1. Build the change into the templates of these pages.
2. When every page above shows it itself, tell {!! $brief->author !!}, who stops serving it.
3. Nothing else of the experiment is in the site: the snippet stays, it is for all experiments.
