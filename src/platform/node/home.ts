/** Where the application lies: its scripts and packages. The command line is called from anywhere and says so. */
export const applicationHome = (): string => process.env.ZERO_LATCH_HOME ?? process.cwd();
