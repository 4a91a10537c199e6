/** The version of the plan format that this program writes. */
export const planVersion = 9;
