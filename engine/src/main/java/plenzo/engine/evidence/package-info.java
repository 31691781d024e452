/** Files that people give as evidence: kept, read where they are test reports, handed out. */
@NullMarked
package plenzo.engine.evidence;

import org.jspecify.annotations.NullMarked;
