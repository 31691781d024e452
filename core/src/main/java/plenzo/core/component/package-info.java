/** What the parts of an application are called and identified by; anyone may use it. */
@NullMarked
package plenzo.core.component;

import org.jspecify.annotations.NullMarked;
