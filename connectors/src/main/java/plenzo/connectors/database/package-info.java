/** The connector to PostgreSQL; only wiring may depend on it. */
@NullMarked
package plenzo.connectors.database;

import org.jspecify.annotations.NullMarked;
