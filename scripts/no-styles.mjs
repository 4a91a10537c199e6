/** Stands in for a file of styles in tests. */
export default {};
