{!! $title !!}

@foreach ($lines as $line)
{!! $line !!}

@endforeach
@if ($link !== null)
{!! $link !!}
@endif
