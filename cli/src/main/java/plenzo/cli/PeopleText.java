package plenzo.cli;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.api.People.Only;
import plenzo.api.People.PersonView;

/** Rights in a line. */
final class PeopleText {
  private PeopleText() {}

  /** How much somebody was given. */
  static String has(PersonView p) {
    List<String> out = new ArrayList<>();
    if (!p.roles().isEmpty()) {
      out.add(p.roles().size() + (p.roles().size() == 1 ? " role" : " roles"));
    }
    if (!p.grants().isEmpty()) {
      out.add(p.grants().size() + (p.grants().size() == 1 ? " right" : " rights"));
    }
    return out.isEmpty() ? "no rights" : String.join(", ", out);
  }

  /** What a token was narrowed to; empty when it was not. */
  static String only(@Nullable Only only) {
    if (only == null) {
      return "";
    }
    List<String> out = new ArrayList<>(only.rights());
    only.stages().forEach(s -> out.add("at " + s));
    only.applications().forEach(a -> out.add("for " + a));
    return String.join(" ", out);
  }
}
