/** The version of this page. */
declare const __VERSION__: string;
