export const ROOT: string;
export const SERVER_MAIN: string;
export const WEB_FOLDER: string;
