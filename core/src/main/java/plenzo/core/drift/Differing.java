package plenzo.core.drift;

import java.util.List;
import java.util.Locale;
import plenzo.core.comparison.AttributeDifference;
import plenzo.core.component.ComponentKey;
import plenzo.core.json.Json;
import plenzo.core.json.JsonRefused;
import plenzo.core.words.Codes;

/**
 * One part, row, file or definition that is not the same on two sides.
 *
 * @param part what of the component: {@code column/x}, {@code row/…}; empty for all of it
 * @param attributes what differs in it: present is what is there, incoming what it is held against
 */
public record Differing(
    ComponentKey component, String part, How how, List<AttributeDifference> attributes) {
  public Differing {
    part = part.equals("table/") || part.equals("content/") ? "" : part;
    attributes = List.copyOf(attributes);
  }

  /** In which way it differs. */
  public enum How {
    /** On both sides, and not the same. */
    CHANGED,
    /** Held against, and not there. */
    GONE,
    /** There, and in nothing that it is held against. */
    ONLY_THERE;

    public String code() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /**
     * @throws IllegalArgumentException when there is none of that code
     */
    public static How of(String code) {
      return Codes.find("a way in which a part differs", values(), How::code, code);
    }

    /** Of a part that is on these sides; at least one of them has it. */
    public static How of(boolean there, boolean against) {
      return !against ? ONLY_THERE : there ? CHANGED : GONE;
    }
  }

  /** How decisions and people name it: {@code table/fares.band#column/code}. */
  public String place() {
    return place(component, part);
  }

  /** The same of a part of a component; empty, or the whole of it, is the component alone. */
  public static String place(ComponentKey component, String part) {
    return part.isEmpty() || part.equals("table/") || part.equals("content/")
        ? component.toString()
        : component + "#" + part;
  }

  public Json toJson() {
    return Json.object(
        "component",
        component.toString(),
        "part",
        part,
        "how",
        how.code(),
        "attributes",
        new Json.Arr(
            attributes.stream()
                .map(
                    a ->
                        (Json)
                            Json.object(
                                "name",
                                a.name(),
                                "there",
                                a.present(),
                                "against",
                                a.incoming(),
                                "notThere",
                                a.presentAbsent(),
                                "notAgainst",
                                a.incomingAbsent()))
                .toList()));
  }

  /**
   * @throws JsonRefused when it is none
   */
  public static Differing of(Json json) {
    Json.Obj j = json.asObject();
    return new Differing(
        ComponentKey.of(j.text("component")),
        j.text("part"),
        How.of(j.text("how")),
        j.list("attributes").stream()
            .map(Json::asObject)
            .map(
                a ->
                    AttributeDifference.of(
                        a.text("name"),
                        a.findText("there"),
                        a.findText("against"),
                        a.flag("notThere"),
                        a.flag("notAgainst")))
            .toList());
  }
}
