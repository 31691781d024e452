/** The one place where SQL is built: every identifier and literal passes its quoting functions. */
@NullMarked
package plenzo.connectors.database.sql;

import org.jspecify.annotations.NullMarked;
