package plenzo.demo;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;

/**
 * What the application fares is made of beside its tables: rules, a quote form, a card-terminal
 * integration, and published files. People edit it in the host and in the directory of a site.
 */
public final class FareDesk {
  /** The question that is asked before and after every run. */
  public static final String QUESTION =
      "{\"form\":\"fares.quote\",\"values\":{\"band\":\"FOOT\",\"night\":\"true\"}}";

  private FareDesk() {}

  public static String form() {
    return """
        {"definition":{"base":{"field":"band","key":"code","table":"fares.fare_band","value":"base_price"},\
        "fields":[{"name":"band","required":true},{"name":"night"},{"name":"peak"}],"pays":"fares.card-terminal"},\
        "format":1,"inputs":[],"kind":"form","name":"fares.quote",\
        "references":[{"component":"table/fares.fare_band","how":"reads"},\
        {"component":"integration/fares.card-terminal","how":"calls"}],"title":"What a crossing costs"}""";
  }

  /**
   * @param multiply by how much a night crossing costs more, "1.15"
   */
  public static String night(String multiply) {
    return """
        {"definition":{"form":"fares.quote","order":20,"says":"night","then":{"multiply":"%s"},"when":{"night":"true"}},\
        "format":1,"inputs":[],"kind":"rule","name":"fares.night-crossing",\
        "references":[{"component":"form/fares.quote","how":"shows"}],"title":"Night crossings cost more"}"""
        .formatted(multiply);
  }

  public static String peak(String add) {
    return """
        {"definition":{"form":"fares.quote","order":10,"says":"peak","then":{"add":"%s"},"when":{"peak":"true"}},\
        "format":1,"inputs":[],"kind":"rule","name":"fares.peak-crossing",\
        "references":[{"component":"form/fares.quote","how":"shows"}],"title":"Peak crossings cost more"}"""
        .formatted(add);
  }

  /** New in 2.4.0: no crossing costs more than the stage's ceiling. */
  public static String ceiling() {
    return """
        {"definition":{"form":"fares.quote","order":90,"says":"ceiling","then":{"atMostInput":"fare-ceiling"},"when":{}},\
        "format":1,"inputs":[{"default":"400.00","description":"Highest fare that is asked","name":"fare-ceiling","type":"number"}],\
        "kind":"rule","name":"fares.ceiling","references":[{"component":"form/fares.quote","how":"shows"}],\
        "title":"No fare above the ceiling"}""";
  }

  public static String terminal(String protocol) {
    return """
        {"definition":{"address":"terminal-address","key":"terminal-key","protocol":"%s"},"format":1,\
        "inputs":[{"description":"Where the card terminal of the site is","name":"terminal-address","type":"address"},\
        {"description":"Key that the terminal accepts","name":"terminal-key","secret":true,"type":"text"}],\
        "kind":"integration","name":"fares.card-terminal","references":[],"title":"Card terminal"}"""
        .formatted(protocol);
  }

  /** What every host holds before Plenzo comes. */
  public static void furnish(HostProcess host, String stage) {
    host.edit(
        "integration",
        "fares.card-terminal",
        terminal("1"),
        true,
        "{\"terminal-address\":\"https://terminal."
            + stage
            + ".example\",\"terminal-key\":\"key-"
            + stage
            + "\"}");
    host.edit("form", "fares.quote", form(), true, "");
    host.edit("rule", "fares.night-crossing", night("1.10"), true, "");
    host.edit("rule", "fares.peak-crossing", peak("4.50"), true, "");
  }

  /** What every directory holds before Plenzo comes. */
  public static void publish(Path folder) {
    write(
        folder,
        "fares/conditions.txt",
        "Conditions of carriage\n\n1. Tickets are personal.\n2. Pets travel in the hold.\n3. Bicycles are free.\n");
    write(
        folder,
        "fares/prices.html",
        "<h1>Fares</h1>\n<p>Foot passenger 12.00</p>\n<p>Car 48.00</p>\n");
    write(folder, "sailings/timetable.txt", "GANNET 06:30\nGANNET 12:00\nTERN 08:15\n");
  }

  public static void write(Path folder, String name, String text) {
    try {
      Path file = folder.resolve(name);
      Files.createDirectories(file.getParent());
      Files.writeString(file, text);
    } catch (IOException e) {
      throw new UncheckedIOException(name + " cannot be written", e);
    }
  }
}
