/** Versions of an application: numbers, content, ancestry, drafts; anyone may use it. */
@NullMarked
package plenzo.core.version;

import org.jspecify.annotations.NullMarked;
