# Code to put onto {!! $brief->site !!}

From {!! $brief->author !!}. As of {{ $brief->now->format('j M Y, H:i') }} ({!! $brief->zone !!}).

{!! $brief->message !!}

## 1. The code, in this order

All of it goes into the `<head>`, before other scripts and style sheets, exactly as it stands here: no curly quotes, no line cut off.

@foreach ($brief->codes as $code)
### {!! $code['name'] !!}

```html
{!! $code['text'] !!}
```

@endforeach
## 2. Which pages get what

@foreach ($brief->groups as $group)
- **{!! $group['name'] !!}** ({{ $group['total'] }} known): {!! implode('; ', $group['must']) !!}
@endforeach

## 3. What is still missing

{{ $brief->sound }} of {{ $brief->total }} known pages have what they must have.

@foreach ($brief->open as $page)
- `{!! str_replace('`', '%60', $page['url']) !!}`: {!! $page['state'] !!}@if ($page['missing'] !== []) ({!! implode(', ', $page['missing']) !!})@endif

@endforeach

## 4. How to check it

1. View the source of the page, not the inspector: the code must stand in the head as it stands above.
2. Open the page in a browser with its network panel open. There must be one request for `{!! $brief->origin !!}/s/….js` and, within a second, one to `{!! $brief->origin !!}/c` that answers 200.

## 5. What it does to speed and privacy

- The snippet loads one file of under 12 KB (packed) without holding the page up. If that file cannot be had, the page works as if there were no snippet.
- Two first-party cookies are kept: a random visitor id and the variants that the visitor was given. Nothing is read from forms, and no address or name is sent.
- Under a Content-Security-Policy add `{!! $brief->origin !!}` to `script-src` and `connect-src`, and a nonce for the inline part.
