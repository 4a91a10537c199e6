/*
 * What is only drawn to text is drawn by the library as people get it: as developers get it, each element costs a trace
 * of its calls.
 */
process.env.NODE_ENV = 'production';
