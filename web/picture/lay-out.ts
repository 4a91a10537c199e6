/** Laying a picture out here and now: it comes with the sheets that show it large. */
export { layoutOf, pictureOf } from '../../core/index.ts';
