package plenzo.server.security;

import jakarta.servlet.ServletException;
import java.io.IOException;
import org.apache.catalina.connector.Request;
import org.apache.catalina.connector.Response;
import org.apache.catalina.valves.ValveBase;
import org.apache.coyote.ActionCode;
import org.springframework.boot.tomcat.servlet.TomcatServletWebServerFactory;
import org.springframework.boot.web.server.WebServerFactoryCustomizer;
import org.springframework.stereotype.Component;

/**
 * The container takes in what is left of a request before it goes on, and waits for it; what was
 * refused because it does not come is not waited for (measured: five seconds of a thread each).
 */
@Component
class UnreadBodies implements WebServerFactoryCustomizer<TomcatServletWebServerFactory> {
  static final String UNREAD = "plenzo.unread";

  @Override
  public void customize(TomcatServletWebServerFactory factory) {
    factory.addEngineValves(new EndsConnection());
  }

  /** Looks at what the door decided when everything is done. */
  private static final class EndsConnection extends ValveBase {
    EndsConnection() {
      super(/* asyncSupported= */ true);
    }

    @Override
    public void invoke(Request request, Response response) throws IOException, ServletException {
      getNext().invoke(request, response);
      if (request.getAttribute(UNREAD) != null) {
        request.getCoyoteRequest().action(ActionCode.DISABLE_SWALLOW_INPUT, null);
      }
    }
  }
}
