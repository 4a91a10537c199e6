/** The web app and the server, built; true where they are there. */
export function buildApp(): boolean;
