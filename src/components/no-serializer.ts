/**
 * Stands where the parser of rich text brings along what searches and writes trees; cleaning reads tokens alone, so a
 * browser need not carry that.
 */
export {}
