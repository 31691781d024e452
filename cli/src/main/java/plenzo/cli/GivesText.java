package plenzo.cli;

import plenzo.api.Promotions.GivesView;

/** Says of a value what the host is given of it. */
final class GivesText {
  private GivesText() {}

  static String of(GivesView g) {
    if (g.shown() == null) {
      return "Has the host forget " + g.input();
    }
    return (g.anew() ? "Gives anew " : "Gives ")
        + g.input()
        + ": "
        + g.shown()
        + (g.from().isEmpty() ? " (its default)" : ", set at " + g.from());
  }
}
