// Jest keeps a hundred frames of each error; tests of bad input make hundreds of thousands of errors.
Error.stackTraceLimit = 10;
