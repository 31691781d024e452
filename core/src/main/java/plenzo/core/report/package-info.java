/** What is handed to people who look back: documents in words and tables, and figures. */
@NullMarked
package plenzo.core.report;

import org.jspecify.annotations.NullMarked;
