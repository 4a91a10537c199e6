/*
 * What is only drawn to text is drawn by the library as people get it: as developers get it, each element costs a trace
 * of its calls. Tests that click run with that, and look at what it complains about.
 */
if (typeof document === 'undefined') process.env.NODE_ENV = 'production';
