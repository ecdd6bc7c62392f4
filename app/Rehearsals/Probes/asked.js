/*
 * Says aloud whatever would make a browser ask a person: without a screen nobody is asked.
 */
(() => {
    const said = (name, of, method) => {
        const own = of && of[method];
        if (typeof own === 'function') {
            of[method] = function () {
                console.debug('pellix-rehearsal asks ' + name);
                return own.apply(this, arguments);
            };
        }
    };
    said('notifications', window.Notification, 'requestPermission');
    said('geolocation', navigator.geolocation, 'getCurrentPosition');
    said('geolocation', navigator.geolocation, 'watchPosition');
    said('camera or microphone', navigator.mediaDevices, 'getUserMedia');
    said('clipboard', navigator.clipboard, 'readText');
    said('window', window, 'open');
})();
