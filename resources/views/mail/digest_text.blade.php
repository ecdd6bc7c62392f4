{!! $title !!}

@foreach (['new' => 'New', 'open' => 'Not over yet', 'over' => 'Over'] as $key => $head)
@if ($digest["{$key}_count"] > 0)
{!! $head !!}: {!! $digest["{$key}_count"] !!}
@foreach ($digest[$key] as $one)
* {!! $one['name'] !!}: {!! $one['message'] !!} ({!! $moment($one['at']) !!}{!! $one['over'] ? ', over since '.$moment($one['over']) : '' !!})
  {!! $one['url'] !!}
@endforeach
@if ($digest["{$key}_count"] > count($digest[$key]))
and {!! $digest["{$key}_count"] - count($digest[$key]) !!} more.
@endif

@endif
@endforeach
Running: {!! $digest['running_count'] !!}
@foreach ($digest['running'] as $one)
* {!! $one['name'] !!}: {!! $one['sentence'] ?? 'not audited yet.' !!}{!! $one['audited'] ? ' ('.$moment($one['audited']).')' : '' !!}
@endforeach
@if ($digest['running_count'] > count($digest['running']))
and {!! $digest['running_count'] - count($digest['running']) !!} more.
@endif

Times are those of {!! $site->time_zone !!}.
What you are told, and when not, you choose here: {!! $root !!}/notices/settings
