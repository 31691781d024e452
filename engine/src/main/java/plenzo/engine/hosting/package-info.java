/** What people do with a site's application host outside runs. */
@NullMarked
package plenzo.engine.hosting;

import org.jspecify.annotations.NullMarked;
