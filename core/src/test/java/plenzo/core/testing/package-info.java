/** Where tests build what they need. */
@org.jspecify.annotations.NullMarked
package plenzo.core.testing;
